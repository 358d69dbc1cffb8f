"""What sets the project up, checks it and tests it; `set_up` needs nothing but Python itself."""
