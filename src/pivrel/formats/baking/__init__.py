"""Baked hand-overs: a plan that says which images follow, the images, and the model that shows them."""
