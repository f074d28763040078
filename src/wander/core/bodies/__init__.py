"""What a body is, whoever made it, and how everything else reads it."""
