"""Drawings made to hang or to eat memory: each with the words it is refused with."""


def svg(body: str) -> bytes:
    return ('<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="200mm" viewBox="0 0 200 200">'
            f"{body}</svg>").encode()


def dxf(*entities) -> bytes:
    rows = ["0", "SECTION", "2", "HEADER", "9", "$ACADVER", "1", "AC1024", "9", "$INSUNITS", "70", "4", "0", "ENDSEC",
            "0", "SECTION", "2", "ENTITIES"]
    for entity in entities:
        rows += entity
    return "\n".join(map(str, [*rows, "0", "ENDSEC", "0", "EOF"])).encode()


def polyline(points) -> list:
    rows = ["0", "LWPOLYLINE", "8", "0", "100", "AcDbEntity", "100", "AcDbPolyline", "90", len(points), "70", 1]
    for x, y, *bulge in points:
        rows += ["10", x, "20", y] + (["42", *bulge] if bulge else [])
    return rows


def comb(teeth: int) -> list:
    points = [p for i in range(teeth) for p in ((i, 0), (i, 50), (i + 0.5, 50), (i + 0.5, 0))]
    return polyline([*points, (teeth, -10), (0, -10)])


def spline(points: int, degree: int) -> list:
    rows = ["0", "SPLINE", "8", "0", "100", "AcDbEntity", "100", "AcDbSpline", "70", 8, "71", degree,
            "72", points + degree + 1, "73", points, "74", 0]
    for i in range(points + degree + 1):
        rows += ["40", i]
    for i in range(points):
        rows += ["10", i % 2 * 900, "20", i % 3 * 900, "30", 0]
    return rows


def ellipse() -> list:
    return ["0", "ELLIPSE", "8", "0", "100", "AcDbEntity", "100", "AcDbEllipse", "10", 0, "20", 0, "30", 0,
            "11", 9e5, "21", 0, "31", 0, "40", 0.001, "41", 0, "42", 6.28]


PATH = '<path d="M0 0L9 0 9 9Z"/>'
DRAWINGS = {
    "transforms within transforms": ("a.svg", svg(f'<g transform="{"translate(" * 4000}">{PATH}</g>'), "transform"),
    "a transform of 5 MB": ("a.svg", svg(f'<g transform="{"translate(" * 470_000}">{PATH}</g>'), "transform"),
    "groups within groups": ("a.svg", svg("<g>" * 300_000 + "</g>" * 300_000), "tags"),
    "huge curves in one path": ("a.svg", svg(f'<path d="M0 0{"C9e5 9e5 -9e5 9e5 1 1 " * 9000}"/>'), "60000 points"),
    "a comb": ("a.dxf", dxf(comb(10_000)), "draw its curves as arcs"),
    "a finer outline than a part has": ("a.dxf", dxf(comb(1000)), "has an outline of 4001 corners"),
    "60,000 rounded corners": ("a.dxf", dxf(polyline([(i * 0.01, i % 2 * 9e5, 0.9) for i in range(60_000)])),
                               "rounded corners"),
    "5,000 huge rounded corners": ("a.dxf", dxf(polyline([(i * 0.01, i % 2 * 900, 0.9) for i in range(5000)])),
                                   "60000 points"),
    "a long spline": ("a.dxf", dxf(spline(10_000, 3)), "control points"),
    "a spline of a high degree": ("a.dxf", dxf(spline(300, 200)), "degree 200"),
    "huge ellipses": ("a.dxf", dxf(*[ellipse()] * 3000), "60000 points"),
    "a star": ("a.dxf", dxf(*(["0", "LINE", "8", "0", "10", 0, "20", 0, "11", i % 100, "21", i] for i in range(7900))),
               "lines that meet"),
}
