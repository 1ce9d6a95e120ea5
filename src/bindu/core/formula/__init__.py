"""The formula language: text to tree, tree to arrays."""
