"""Values that somebody types sooner or later, and files bent out of shape."""

import random

MARK = "<zz9 onx='1'>&\""
"""Must never come back as it was sent."""
FORMULA = "=HYPERLINK(\"x\")"
VALUES = ["", " ", "0", "-1", "1", "12", "40", "7 3/8", "1e308", "-1e308", "nan", "inf", "²", "٣", "9" * 30, "1" * 5000,
          "1" * 190, "0x10", "1/0", "7 3/0", "--5", "10 mm", "1' 2 1/2\"", "1e-300", "0.0000001", "99999", "100000.01",
          "16 ga", "90 open", "180", "179.99", "up", "down", "in", "out", "outside", "inside", "around 40 with 1",
          "into T-0150 width", "around T-999 width", "null", "true", "[]", "{}", "../../etc", "a\x00b", "\u202e",
          "é" * 100, MARK, FORMULA, "+1", "-2+3", "@x", "front", "left", "tab", "butt", "mitre", "bypass", "k_factor",
          "din6935", "handbook", "soft", "none", "half_zone", "generic", "shop", "chart:1", "chart:²", "mild-steel",
          "stainless-304", "along", "B1", "B2,B1", "B1,B1", "L1", "[[0,0],[40,0],[40,60]]", "[[0,0],[1e9,0]]", "[[0,0]]",
          "[" * 3000, "240 × 160", "x×y", "300", "0.5", "2", "3", "1.5 mm"]


def bent(data: bytes, rng: random.Random) -> bytes:
    """A file with bytes flipped, cut short, doubled or with one value for another."""
    data = bytearray(data)
    for _ in range(rng.randint(1, 6)):
        way, at = rng.random(), rng.randrange(max(1, len(data)))
        if way < 0.3 and data:
            data[at] = rng.randrange(256)
        elif way < 0.45:
            del data[at:at + rng.randint(1, 200)]
        elif way < 0.6:
            data[at:at] = data[at:at + rng.randint(1, 400)]
        else:
            value = rng.choice(VALUES).encode("utf-8", "surrogatepass")[:200]
            end = next((i for i in range(at, min(len(data), at + 40)) if data[i:i + 1] in b" \n,\":<>"), at + 3)
            data[at:end] = value
    return bytes(data)
