"""Open files in and out: part, brake and flat files (JSON), DXF, SVG, CSV."""
