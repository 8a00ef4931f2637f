"""The joint contract: what every kind of joint is asked, and the shapes several kinds are made of."""
