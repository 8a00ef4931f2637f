"""Bodies grown, shrunk and looked into: what steps of preparing are made with."""
