"""The model: read, looked over, made right and prepared, step by step."""
