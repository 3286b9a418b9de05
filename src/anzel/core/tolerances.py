"""Every tolerance in the core, in millimetres, each with its reason."""

COINCIDENT = 1e-6
"""Two points nearer than this are one point. Coordinates up to 10 m carry about 1e-12 mm of
float error, and no cutter resolves a nanometre, so nothing real is lost in between."""

ON_CURVE = 1e-7
"""A vertex returned by a boolean operation lies on the chord it came from within this."""

FLATTEN = 0.005
"""Largest distance between a curve and the chords that stand in for it while topology is
decided. Half of SMALLEST, so chords can neither make nor hide a feature that counts. Exact
curves are put back afterwards, so it never shows in an outline."""

ARCS_OFF = 0.002
"""Arcs that stand for a free curve in a DXF of arcs are off it by no more, mm."""

SMALLEST = 0.01
"""No edge shorter than this is ever invented: it is below what a cutter can follow."""

PARALLEL = 1e-9
"""Sine of the angle under which two planes count as parallel and have no crossing line."""


# Rounding: what float arithmetic leaves.

ROUNDING = 1e-9
"""Two numbers, parameters or sines are equal within this. Sums and products of sizes up to a metre
carry a thousandth of it in float error."""

VANISHING = 1e-12
"""A divisor nearer to zero than this is zero: a determinant, a slope, a length."""

PARAMETER_SLACK = 1e-9
"""Slack in a segment's parameter, so that a crossing exactly at an end point is not lost to
rounding."""

RAY_IN_PLANE = 1e-12
"""Determinant below which a ray counts as lying in a triangle's plane and does not meet it."""

RAY_AHEAD = 1e-9
"""A triangle nearer than this, in lengths of the direction, is where the ray starts."""

CERTAIN_SPREAD = 1e-9
"""Standard deviation, mm, that stands for a certain clearance, so that it is still on one side of a
limit."""


# Directions: sines of angles.

SQUARE = 1e-6
"""Sine of the angle by which plates or edges may be off square or parallel and still count as it.
Over a metre it is a micrometre."""

ON_ONE_LINE = 1e-6
"""Plates share a line if their lines are no further apart than this, mm, and differ in direction by
no more than this sine."""

EXACTLY_SQUARE = 1e-9
"""Cosine of the angle between two plates below which they meet exactly at a right angle, so that
the terms of a slant vanish."""

PRODUCED_SQUARE = 1e-3
"""Cosine under which two edges of a cut file count as square; files round coordinates."""

OFFSET_CORNER = 0.05
"""Sine of the least angle at which two sides have a corner that can be moved by offsets."""


# Outlines.

ONE_CIRCLE = 1e-3
"""Centres of arcs on one circle, read from a file, agree within this, mm: files round
coordinates."""

SAME_CROSSING = 0.05
"""A closed-form crossing further than this, in the parameter, from where the chords cross is
another one."""

PARALLEL_CURVE = 0.001
"""The parallel of a free curve may be off by this, mm; a cutter's own accuracy is ten times
coarser."""

INSCRIBED_CIRCLE = 1.0
"""The largest inscribed circle is found within this, mm: it places names."""

MESH_STRAIGHT = 0.01
"""A corner of a mesh section that deviates less than this from a straight line, mm, is left out; no
cutter follows it."""

SHELL_STRAIGHT = 0.005
"""A corner of a shell's inside that deviates less than this from a straight line, mm, is left
out."""

CHORD_GRID = 1e-6
"""Chords are snapped to a grid this fine, mm; nearly touching chords would not meet soundly."""

CONVEX_AREA = 0.02
"""An outline with no more area to its convex hull than this, mm², is convex but for its chords."""

JUST_INSIDE = 1e-4
"""The corners of a tab are looked for this far inside the edge, mm, so that a point on the edge
counts as inside."""

BENEATH_FLOOR = 0.05
"""The piece of a slot is looked for this far under the slot's floor, mm."""

SEAM_DEPTH = 0.01
"""The middle of a seam between facets is deeper inside the whole than this, mm."""

EXPLODED = 1e-4
"""Offsets of the exploded view are found within this share."""

RESCALED = 1e-4
"""A wanted size of the whole is met within this share."""

OVERLAP_VOLUME = 0.01
"""An overlap smaller than this, mm³, is float dust of the solids."""

RIPPLE = 0.0005
"""A change smaller than this, mm, would read as no change."""


# Drawings.

LARGEST_GAP = 0.1
"""Ends nearer than this are taken as meant to meet, mm. Drawings that look closed on a screen are
off by their program's rounding or snapping; the least that is ever drawn on purpose is larger.
Common practice, no source."""

STRAIGHT_BULGE = 1e-9
"""A bulge no larger than this is a program's rounding: over a metre it stands out by half a
nanometre."""

SPLINE_DEVIATION = 1e-4
"""A spline that is not cubic is replaced by cubics that deviate by less than this, in drawing
units."""

CORNER_ON_LINE = 0.002
"""The corner between two straight edges of one side is off the line by less than this, mm."""

CONGRUENT = 0.02
"""Corners of congruent pieces coincide within this, mm: drawings round coordinates."""

SAME_SIZE = 1e-3
"""A drawn size that differs by less than this from the wanted one, mm, is not changed."""

DXF_MEETS = 1e-4
"""Ends of DXF entities nearer than this are one point, mm: an arc stores angles, which give its
ends only to about 1e-9 of its radius, and some programs write four decimals."""

MESH_CORNERS = 1e-5
"""Corners closer than this share of the mesh's size were meant to be one."""


# Nesting.

NO_DISTANCE = 1e-6
"""A distance between items below this is none, mm."""

SLIMMER = 1 - 1e-6
"""Sliding items are narrower by this factor across their direction, so that they pass along what
they touch."""

TOUCHING = 1e-3
"""A ray that starts this far behind an edge counts as starting on it, mm."""

SLIDING = 1e-3
"""Sliding is exact except for this, mm: chords of round corners, and narrower items."""

CHORD_SLACK = SMALLEST
"""Chords stand for curves within half of this, so two items can seem nearer by all of it, mm."""

OVERLAP_DEPTH = 5e-4
"""The depth of an overlap is found within this, mm."""

OVERLAP_AREA = 1e-7
"""An overlap of less area than this is rounding, mm²."""

STRIP_SPACING = 0.02
"""The strip packer counts in single precision and simplifies outlines; this much more spacing makes
up for it, mm."""

STRIP_SIMPLIFIED = 0.02
"""Outlines for the strip packer lose corners that move them less than this, mm; its result is
validated."""
