"""What a node of the graph is, and the operations that compute its values."""
