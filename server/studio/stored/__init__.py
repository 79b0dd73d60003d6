"""What is stored: the revisions of patterns, and the Trail with the clips kept from it."""
