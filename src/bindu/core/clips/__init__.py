"""Poses and animation, taken from a scene and put into one."""
