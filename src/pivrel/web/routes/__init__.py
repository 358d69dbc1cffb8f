"""The addresses of the application: one blueprint a resource."""
