"""A body's picture on paper: the same faces as in the SVG, drawn by reportlab."""

from __future__ import annotations

from reportlab.platypus import Flowable

from zonatome.core.body.picture import Picture

EDGE = 0.35  # points: faces are edged in their own colour, so that no light comes through between them


class BodyPicture(Flowable):  # type: ignore[misc]
    """A picture of the furniture as wide or as high as there is room for, in points."""

    def __init__(self, picture: Picture, *, wide: float, high: float) -> None:
        """Take a picture and the room for it."""
        super().__init__()
        x0, y0, x1, y1 = picture.bounds
        self.picture, self.scale = picture, min(wide / max(x1 - x0, 1.0), high / max(y1 - y0, 1.0))
        self.width, self.height = (x1 - x0) * self.scale, (y1 - y0) * self.scale
        self.hAlign = "LEFT"

    def wrap(self, *_: float) -> tuple[float, float]:
        """Its size, whatever room is offered."""
        return self.width, self.height

    def draw(self) -> None:
        """Paint its faces, the farthest first."""
        canvas = self.canv
        x0, y0, _, _ = self.picture.bounds
        canvas.saveState()
        canvas.setLineJoin(1)
        canvas.setLineCap(1)
        for face in self.picture.faces:
            red, green, blue = (part / 255 for part in face.colour)
            canvas.setStrokeColorRGB(red, green, blue)
            places = [((x - x0) * self.scale, (y - y0) * self.scale) for x, y in face.points.tolist()]
            if face.is_dot:
                canvas.setFillColorRGB(red, green, blue)
                canvas.circle(*places[0], face.stroke * self.scale / 2, stroke=0, fill=1)
                continue
            path = canvas.beginPath()
            path.moveTo(*places[0])
            for place in places[1:]:
                path.lineTo(*place)
            canvas.setLineWidth(max(face.stroke * self.scale, 0.2) if face.stroke else EDGE)
            if face.stroke:
                canvas.drawPath(path, stroke=1, fill=0)
                continue
            path.close()
            canvas.setFillColorRGB(red, green, blue)
            canvas.drawPath(path, stroke=0 if face.is_figure else 1, fill=1)
        canvas.restoreState()
