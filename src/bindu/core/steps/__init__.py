"""The kinds of step, one module for each, all with the interface of ``base``."""
