"""Metal bent in a row: where each zone really lies, what stands at the stop, and how long the finished legs are.

Many pieces at once: every quantity that may differ from piece to piece is an array (n,). Places run along the blank in
mm. It knows nothing of the sums by which an order is judged.
"""

import numpy as np

from bendcore.floor.rows import Row


class Metal:
    """Many pieces of one row: thickness ``t`` (n,), what their bends take by K ``k`` (n,), how much larger the inside
    radius is than drawn ``wider`` (n,), the blank longer than drawn by ``longer`` (n,)."""

    def __init__(self, row: Row, t: np.ndarray, k: np.ndarray, wider: np.ndarray | float = 0.0,
                 longer: np.ndarray | float = 0.0):
        self.row, self.bends, self.lines = row, row.bends, row.lines
        self.t, self.k, self.wider, self.long = t, k, wider, row.long + longer
        count = len(self.bends)
        self.angle: list = [None] * count
        self.taken: list = [None] * count
        self.low: list = [None] * count
        self.high: list = [None] * count
        """Where each zone really begins and ends."""

    def radius(self, i: int) -> np.ndarray:
        """The inside radius of a bend, (n,)."""
        return self.bends[i].figures.inside_radius + self.wider

    def bend(self, i: int, angle: np.ndarray) -> None:
        """Bend ``i`` is to stand at ``angle``, degrees (n,), in the end."""
        self.angle[i] = np.radians(angle)
        self.taken[i] = self.angle[i] * (self.radius(i) + self.k * self.t)

    def strike(self, i: int, right: bool, error: np.ndarray, stop: float | None, over: int | None = None,
               height: float = 0.0) -> None:
        """Bend ``i`` is struck over its middle, the metal to one side of it at the stop, which stands off by ``error``;
        ``over`` the bend whose flange bears on it, a cut edge without; ``stop`` None for a scribed line."""
        if stop is None:
            middle = self.lines[i] + error * (-1 if right else 1)
        elif over is None:
            middle = self.long - stop - error if right else stop + error
        else:
            stands = self._stands(over, right, self.bends[i].sign, height)
            middle = self.low[over] + stands - stop - error if right else self.high[over] - stands + stop + error
        self.low[i], self.high[i] = middle - self.taken[i] / 2, middle + self.taken[i] / 2

    def _stands(self, j, right, sign, height) -> np.ndarray:
        """How far the flange of bend ``j`` reaches beyond where its zone begins, at heights a stop can touch."""
        bend, up = self.bends[j], self.bends[j].sign == sign
        r, t, a = self.radius(j), self.t, self.angle[j]
        end = (self.lines[j + 1] if right and j + 1 < len(self.lines) else self.long if right
               else self.lines[j - 1] if j else 0.0)
        flange = abs(end - self.lines[j]) - bend.figures.allowance / 2
        turn = np.linspace(0, 1, 60)[:, None] * a
        y, z = (r + t) * np.sin(turn), (r + t) * (1 - np.cos(turn))
        far = np.minimum(flange, np.maximum((height - z[-1]) / np.maximum(np.sin(a), 1e-9), 0.0))
        y = np.concatenate([y, [y[-1] + far * np.cos(a)]])
        z = np.concatenate([z, [z[-1] + far * np.sin(a)]])
        if not up:  # hangs from the sheet's top, the stop stands on the die
            z = t - z
            last = np.arccos(np.clip(r / (r + t), -1, 1))
            y = np.concatenate([y, [(r + t) * np.sin(np.minimum(last, a))]])
            z = np.concatenate([z, [np.zeros_like(t)]])
        return np.where((z >= -1e-9) & (z <= height + 1e-9), y, -np.inf).max(axis=0)

    def clamp(self, i: int, held_low: bool, error: np.ndarray) -> None:
        """Bend ``i`` is made to a scribed line: the tangent line of the side held lies there, off by ``error``, away
        from the end of the side held."""
        half = self.bends[i].figures.allowance / 2
        if held_low:
            self.low[i] = self.lines[i] - half + error
            self.high[i] = self.low[i] + self.taken[i]
        else:
            self.high[i] = self.lines[i] + half - error
            self.low[i] = self.high[i] - self.taken[i]

    def legs(self) -> dict[str, np.ndarray]:
        """Outside sizes of the finished legs, apex to apex: outer faces laid out and met with each other; at a hem to
        the outside of its fold. Those beside a bend not made yet are left out."""
        stops = [0.0, *(v for pair in zip(self.low, self.high, strict=True) for v in pair), self.long]
        found = {}
        for n, name in enumerate(self.row.legs):
            ends = [i for i in (n - 1, n) if 0 <= i < len(self.bends)]
            if not name or any(self.low[i] is None for i in ends):
                continue
            found[name] = stops[2 * n + 1] - stops[2 * n] + sum(self._setback(i) for i in ends)
        return found

    def _setback(self, i) -> np.ndarray:
        out, a = self.radius(i) + self.t, self.angle[i]
        if self.bends[i].is_hem:
            return out
        # where the outer faces meet: the far face starts at (R sin a, R - R cos a), R = r + t
        return out * np.sin(a) - out * (1 - np.cos(a)) * np.cos(a) / np.sin(a)

    def angles(self) -> dict[str, np.ndarray]:
        """The bends made, degrees; hems are folded flat."""
        return {bend.id: np.degrees(a) for bend, a in zip(self.bends, self.angle, strict=True)
                if a is not None and not bend.is_hem}
