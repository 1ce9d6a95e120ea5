"""A small simulated player: it stands for the program that a rig is delivered to.

It knows files alone: the clips that were read from one, and a setup of its own.
"""
