"""Pieces laid out on beds: as few beds as can be, none of them touching."""
