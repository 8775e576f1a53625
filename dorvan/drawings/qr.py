"""An address as a square code that a tablet's camera reads."""

from reportlab.graphics.barcode.qr import QrCodeWidget


def qr(text: str) -> dict:
    """The code as one path of unit squares, ``size`` of them to a side, four of them white around it."""
    code = QrCodeWidget(text, barLevel="M").qr
    code.make()
    dark = [(x + 4, y + 4) for y, row in enumerate(code.modules) for x, is_dark in enumerate(row) if is_dark]
    return {"size": len(code.modules) + 8, "d": "".join(f"M{x},{y}h1v1h-1z" for x, y in dark)}
