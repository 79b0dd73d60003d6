"""Cuttings: many relatives of a lane at once, grown, laid out along a measure, and searched for."""
