"""What lies over a finish: coats, the masks that say where, and the rules by which channels join."""
