"""What comes from outside: JSON and files, read as strictly as they are stored."""
