"""Setting out: joints on corners, edges and middles, equal cuts, level courses, and what a step gave up of them."""
