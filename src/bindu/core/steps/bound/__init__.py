"""Steps that bind a part's whole groups to other parts."""
