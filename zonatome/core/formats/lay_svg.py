"""A lay as an SVG file in millimetres, for a plotter, a projector or another program."""

from __future__ import annotations

from xml.sax.saxutils import escape

from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.lay.table.cut_sheet import CutSheet


def lay_svg(sheet: CutSheet, *, title: str) -> str:
    """Return the SVG text: 1 user unit is 1 mm, the squared end at the left, the left selvage at the top."""
    table = sheet.table
    width, height = fixed(table.length), fixed(table.width)
    rows = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" viewBox="0 0 {width} '
        f'{height}">',
        f"<title>{escape(title)}</title>",
    ]
    for kind, outlines in (("cloth", table.grounds), ("flaw", table.flaws)):
        rows += [
            f'<path class="{kind}" d="{path_of(o.points, table.width)}" fill="none" stroke="#888" stroke-width="1"/>'
            for o in outlines
        ]
    for row in sheet.rows:
        name = escape(row.name)
        line = path_of(row.outline.points, table.width)
        rows.append(f'<path id="{escape(row.key)}" d="{line}" fill="none" stroke="#000" stroke-width="1"/>')
        rows += [
            f'<path d="{path_of(mark, table.width, closed=False)}" fill="none" stroke="#b03020" stroke-width="1"/>'
            for mark in row.marks
        ]
        if not row.is_strip:
            x0, y0, x1, y1 = row.outline.bounds
            at = f'x="{fixed((x0 + x1) / 2)}" y="{fixed(table.width - (y0 + y1) / 2)}"'
            rows.append(f'<text {at} font-size="28" text-anchor="middle" font-family="sans-serif">{name}</text>')
    rows.append("</svg>")
    return "\n".join(rows) + "\n"
