"""What holds a drawing, as equations, and the solver that satisfies them."""
