"""Assembly sheets: sentences and line drawings of every step, as PDF and as a page."""
