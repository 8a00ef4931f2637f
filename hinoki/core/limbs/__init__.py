"""Limbs of a body: arms, legs, horns, masts, handles' ends; where each of them begins."""
