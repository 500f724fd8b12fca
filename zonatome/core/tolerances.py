"""The tolerances of the whole core, in millimetres unless the name says otherwise."""

SAME_POINT = 0.01  # finer than chalk can mark: two points this near are one
SAME_LENGTH = 0.5  # a tape read twice differs by as much
CURVE = 0.3  # how far a straight step may leave the curve that it stands for
LEAST_AREA = 100.0  # mm2: a shape below 10 x 10 mm is a slip of the hand
LONGEST = 100_000.0  # no cloth, shape or roll of the trade is longer than 100 m
MOST_POINTS = 5_000  # of one outline; a traced cover has at most 1,000
CORNER_DEGREES = 25.0  # an outline that turns more than this at a point has a corner there
LEAST_FLAW = 1.0  # mm2: a pinhole is a flaw too
