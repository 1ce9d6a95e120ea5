"""The computation: scene, curves, formulas, steps, graph, evaluation, ledger and edits.

Nothing here knows of the web, of a database or of files.
"""
