"""What is worked out from what is stored, and kept at hand; nothing here is the only copy."""
