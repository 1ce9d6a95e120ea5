"""Bindu: build the control system of a rig and see how its evaluation order makes final curves."""
