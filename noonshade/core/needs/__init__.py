"""What animals need, place by place."""
