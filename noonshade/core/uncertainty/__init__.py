"""What is not known exactly: the multipliers of a plan, and what they make of every figure."""
