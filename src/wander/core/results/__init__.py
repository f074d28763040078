"""What steps give: results that later steps use, and summaries that the screen shows."""
