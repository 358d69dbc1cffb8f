"""What goes over the wire, once: every request and every answer. `make types` writes the front end's types from it."""
