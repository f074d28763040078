"""What a drawing encloses or runs along, and what is wrong with it."""
