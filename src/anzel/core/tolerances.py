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

SMALLEST = 0.01
"""No edge shorter than this is ever invented: it is below what a cutter can follow."""

PARALLEL = 1e-9
"""Sine of the angle under which two planes count as parallel and have no crossing line."""
