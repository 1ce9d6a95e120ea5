"""USD: trees of transforms and skeletons with time samples, as text (.usda) or binary (.usdc).

``layers`` is for everybody; the rest is what its process imports, and so nothing is imported here.
"""
