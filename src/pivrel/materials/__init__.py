"""The built-in procedural library, and the images that materials are made of."""
