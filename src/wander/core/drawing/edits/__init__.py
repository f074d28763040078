"""What a designer does to a drawing: acts, and what they are made of."""
