"""What is wrong, where and how much."""
