"""What is written down: the document, its numbers, edits and findings. No geometry."""
