"""Drawings as DXF (R2010, millimetres), written by a general library."""

from __future__ import annotations

import io

from ..core.geometry.figures import Arc, Circle, Drawing, Line

_COLOUR = {
    "BELT": 5,
    "PITCH": 8,
    "OUTSIDE": 7,
    "BORE": 7,
    "CENTRES": 8,
    "PARTS": 9,
    "HOLES": 1,
    "OUTLINE": 7,
    "STACK": 7,
    "AXLE": 9,
    "WORDS": 3,
}


def dxf(drawing: Drawing) -> str:
    """A drawing as DXF text; one drawing unit is one millimetre."""
    from ezdxf import units  # takes a quarter of a second to import: only where a file is asked for
    from ezdxf.filemanagement import new

    doc = new("R2010", setup=False)
    doc.units = units.MM
    doc.header["$MEASUREMENT"] = 1
    space = doc.modelspace()
    for shape in drawing.shapes:
        if shape.layer not in doc.layers:
            doc.layers.add(shape.layer, color=_COLOUR.get(shape.layer, 7))
        look = {"layer": shape.layer}
        if isinstance(shape, Line):
            space.add_line((shape.x0, shape.y0), (shape.x1, shape.y1), dxfattribs=look)
        elif isinstance(shape, Circle):
            space.add_circle((shape.x, shape.y), shape.radius, dxfattribs=look)
        elif isinstance(shape, Arc):
            space.add_arc((shape.x, shape.y), shape.radius, shape.start_deg, shape.stop_deg, dxfattribs=look)
        else:
            space.add_text(shape.text, height=shape.height, dxfattribs={**look, "insert": (shape.x, shape.y)})
    out = io.StringIO()
    doc.write(out)
    return out.getvalue()
