"""What the print log taught about estimates: how many times as long prints really take, and as heavy they are."""

from pydantic import BaseModel

SURE = 0.2
"""how far off an estimate may be, before a print log teaches better (common practice)"""
ENOUGH = 3
"""prints from which on their spread says how far off an estimate may be"""


class Factor(BaseModel, frozen=True):
    """Measured by estimated: the median, how far the middle half of all lies apart, and how many prints that rests on."""

    time: float = 1.0
    mass: float = 1.0
    time_spread: float = 0.0
    mass_spread: float = 0.0
    prints: int = 0
    weighed: int = 0
    """of these, those whose grams are known"""

    @property
    def sure(self) -> float:
        """How far off the corrected time may be, as a share of it."""
        if self.prints < ENOUGH:
            return SURE
        return min(SURE, max(0.02, self.time_spread / self.time))

    @property
    def rests_on(self) -> str:
        """What the corrected estimate rests on, in words."""
        if not self.prints:
            return "nothing learned yet: as estimated, 20 % either way"
        many = f"{self.prints} {'print' if self.prints == 1 else 'prints'}"
        spread = f" ± {100 * self.time_spread:.0f} %" if self.prints >= ENOUGH else ""
        mass = f", mass × {self.mass:.2f}" if self.weighed else ""
        return f"{many}: time × {self.time:.2f}{spread}{mass}"


PLAIN = Factor()
