"""What leaves Hinoki: files of pieces and batches, drawings, tables, the report."""
