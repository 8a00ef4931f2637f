"""What screens and reports see of the domain. Nothing is decided here."""
