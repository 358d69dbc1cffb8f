"""The Flask application: one blueprint a resource."""
