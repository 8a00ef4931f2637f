"""Printers that Hinoki sends batches to: one interface, one file for each way to speak."""
