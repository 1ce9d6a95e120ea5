"""The kinds of nodes: for each, which node holds a value, and what that node is made of."""
