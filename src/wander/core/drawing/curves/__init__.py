"""What a drawing holds as exact curves: evaluated, beside one another, crossing, and written as paths."""
