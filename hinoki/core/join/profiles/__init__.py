"""Shapes that several kinds of joint are made of."""
