"""What the eye sees of a model: one rasterizer, what is in sight, and what an outline holds."""
