"""The cut sheet for other programs: a DXF at true size for a plotter or cutter, and a CSV for a spreadsheet."""

from __future__ import annotations

import csv
import io

from zonatome.core.lay.table.cut_sheet import CutSheet

# a layer's name, its colour number
LAYERS = {"CLOTH": 8, "FLAWS": 30, "CUT": 7, "STRIPS": 4, "CROSS_CUTS": 1, "NOTCHES": 1, "WORDS": 8}
COLUMNS = ("number", "piece", "key", "panel", "kind", "corner", "from_end_mm", "from_left_mm", "is_box")


def cut_sheet_dxf(sheet: CutSheet) -> bytes:
    """Return a DXF (R2010) in millimetres: x from the squared end, y across from the right selvage, as the lay's frame
    has it.

    Cloth, flaws, pieces, strips, notches, cross cuts and names lie on layers of their own. Panels lie side by side.
    """
    import ezdxf  # noqa: PLC0415 large, and wanted for a drawing only

    document = ezdxf.new("R2010", setup=False)
    document.header["$INSUNITS"] = 4
    document.header["$MEASUREMENT"] = 1
    for name, colour in LAYERS.items():
        document.layers.add(name, color=colour)
    space = document.modelspace()

    def line(points: tuple[tuple[float, float], ...], layer: str, *, closed: bool) -> None:
        space.add_lwpolyline([(round(x, 4), round(y, 4)) for x, y in points], close=closed, dxfattribs={"layer": layer})

    for ground in sheet.table.grounds:
        line(ground.points, "CLOTH", closed=True)
    for flaw in sheet.table.flaws:
        line(flaw.points, "FLAWS", closed=True)
    for cut in sheet.cross_cuts:
        line(((cut, 0.0), (cut, sheet.table.width)), "CROSS_CUTS", closed=False)
    for row in sheet.rows:
        line(row.outline.points, "STRIPS" if row.is_strip else "CUT", closed=True)
        for mark in row.marks:
            line(mark, "NOTCHES", closed=False)
        x0, y0, x1, y1 = row.outline.bounds
        size = max(4.0, min(30.0, (y1 - y0) * 0.3, (x1 - x0) / max(4, len(row.name))))
        text = space.add_text(f"{row.number} {row.name}", height=size, dxfattribs={"layer": "WORDS"})
        text.set_placement(((x0 + x1) / 2, (y0 + y1) / 2), align=ezdxf.enums.TextEntityAlignment.MIDDLE_CENTER)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8", errors="replace")


def cut_sheet_csv(sheet: CutSheet) -> bytes:
    """Return a CSV, UTF-8, a line for each corner in the order of cutting: distances in mm, as on the sheet; cross
    cuts first.
    """
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(COLUMNS)
    for number, cut in enumerate(sheet.cross_cuts, 1):
        rows.writerow(["", f"right across {number}", "", "", "cross cut", "", f"{cut:.1f}", "", ""])
    for row in sheet.rows:
        kind = "strip" if row.is_strip else "piece"
        for n, corner in enumerate(row.corners, 1):
            place = [f"{round(v, 1) + 0.0:.1f}" for v in (corner.from_end, corner.from_left)]  # no corner is at -0.0
            rows.writerow(
                [row.number, _plain(row.name), row.key, row.panel + 1, kind, n, *place, "yes" if row.is_box else "no"]
            )
    return out.getvalue().encode()


def _plain(words: str) -> str:
    """Words that no spreadsheet takes for a formula."""
    return "'" + words if words[:1] in ("=", "+", "-", "@", "\t", "\r") else words
