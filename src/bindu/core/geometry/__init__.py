"""Pure maths on arrays: rotations, directions, paths and places."""
