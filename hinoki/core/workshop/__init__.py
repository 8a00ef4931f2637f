"""What the maker owns: printers, materials, fits, hardware and stock."""
