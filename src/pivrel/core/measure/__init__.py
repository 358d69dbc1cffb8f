"""What is measured of a laying: stretch, seams, cover."""
