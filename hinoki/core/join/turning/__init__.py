"""Joints that go together by turning one piece: threads and bayonets."""
