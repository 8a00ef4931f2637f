"""What all routers share: who is let in, refusals, uploads."""
