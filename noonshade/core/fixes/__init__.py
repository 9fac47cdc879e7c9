"""What to change: candidates for failed checks and findings, computed with the full model."""
