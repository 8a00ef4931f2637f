"""Points and directions in schemas: three numbers."""

Vec3 = tuple[float, float, float]
