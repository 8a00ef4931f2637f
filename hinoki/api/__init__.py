"""The web interface: thin routers."""
