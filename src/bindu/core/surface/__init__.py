"""Deforming a surface: cages, steps that move their points, and the order of these."""
