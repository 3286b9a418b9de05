"""The shader programs of the standing view, for OpenGL 3.3.

By day faces are lit by the sky and a key light: a flat face has one colour, so it is found at its
corners, and a pixel costs next to nothing. Their shadow on the table has one colour. At dusk a lamp
lights the faces. What stands between the lamp and a place is found in an atlas of six square views
from the lamp; each texel holds the distance to the nearest surface.
"""

DAY = """
#version 330 core
uniform mat4 view; uniform vec4 cut;
in vec3 at; in vec3 normal; in vec3 shift; in vec3 tint;
flat out vec3 own;
void main() {
    vec3 p = at + shift;
    gl_ClipDistance[0] = dot(cut, vec4(p, 1.0));
    gl_Position = view * vec4(p, 1.0);
    float key = max(dot(normal, normalize(vec3(-0.35, -0.55, 0.75))), 0.0);
    own = tint * (0.74 + 0.26 * key + 0.04 * normal.z);
}
"""

SHADOW_SLANT = (0.16, 0.10)
"""How far the table's shadow of what is 1 mm high lies to the right and behind it, mm."""
SHADOW = f"""
#version 330 core
uniform mat4 view; uniform vec4 cut; uniform vec3 dark;
in vec3 at; in vec3 shift;
flat out vec3 own;
void main() {{
    vec3 p = at + shift;
    gl_ClipDistance[0] = dot(cut, vec4(p, 1.0));
    gl_Position = view * vec4(p.xy + p.z * vec2{SHADOW_SLANT}, -0.2, 1.0);
    own = dark;
}}
"""

PLAIN = """
#version 330 core
flat in vec3 own; out vec4 colour;
void main() { colour = vec4(own, 1.0); }
"""

_LAMPLIGHT = """
uniform vec3 lamp; uniform mat4 sides[6]; uniform sampler2D nearest; uniform float reach;
float reached(vec3 p) {
    vec3 way = p - lamp, size = abs(way);
    int side = size.x >= size.y && size.x >= size.z ? (way.x > 0.0 ? 0 : 1)
             : size.y >= size.z ? (way.y > 0.0 ? 2 : 3) : (way.z > 0.0 ? 4 : 5);
    vec4 seen = sides[side] * vec4(p, 1.0);
    vec2 at = clamp(seen.xy / seen.w * 0.5 + 0.5, 0.002, 0.998);
    vec2 corner = vec2(side % 3, side / 3), texel = 0.5 / vec2(textureSize(nearest, 0));
    float open = 0.0, far = length(way) - 0.6 - 0.004 * length(way);
    for (int i = 0; i < 4; i++) {
        vec2 tap = (corner + at) / vec2(3.0, 2.0) + texel * vec2(i % 2 * 2 - 1, i / 2 * 2 - 1);
        open += texture(nearest, tap).r > far ? 0.25 : 0.0;
    }
    return open;
}
float fading(vec3 p) { float d = length(p - lamp) / reach; return 1.0 / (1.0 + 2.5 * d * d); }
"""

DUSK = """
#version 330 core
uniform mat4 view; uniform vec4 cut;
in vec3 at; in vec3 normal; in vec3 shift; in vec3 tint; in float glow;
out vec3 n; out vec3 p; out vec3 own; out float through;
void main() {
    p = at + shift;
    gl_ClipDistance[0] = dot(cut, vec4(p, 1.0));
    n = normal; own = tint; through = glow; gl_Position = view * vec4(p, 1.0);
}
"""

LAMPLIT = (
    """
#version 330 core
in vec3 n; in vec3 p; in vec3 own; in float through; out vec4 colour;
"""
    + _LAMPLIGHT
    + """
void main() {
    float slant = dot(n, normalize(lamp - p));
    float plain = max(slant, 0.0) * reached(p + n * 0.4);
    float lit = mix(plain, 0.45 + 0.55 * abs(slant), through) * fading(p);
    colour = vec4(own * (0.20 + 0.05 * n.z + 1.05 * lit * vec3(1.0, 0.93, 0.80)), 1.0);
}
"""
)

LINES = """
#version 330 core
uniform mat4 view; uniform vec4 cut;
in vec3 at; in vec3 shift; in vec3 tint; out vec3 own;
void main() {
    gl_ClipDistance[0] = dot(cut, vec4(at + shift, 1.0));
    gl_Position = view * vec4(at + shift, 1.0);
    gl_Position.z -= 0.00005 * gl_Position.w;  // about half a mm in front of its own faces
    own = tint;
}
"""

INK = """
#version 330 core
uniform float strength; uniform vec3 dark;
in vec3 own; out vec4 colour;
void main() { colour = vec4(mix(dark, own, strength), 1.0); }
"""

TABLE = """
#version 330 core
uniform mat4 view; uniform vec4 table;
in vec2 at; out vec3 p;
void main() {
    p = vec3(table.xy + at * table.z, table.w);
    gl_Position = view * vec4(p, 1.0);
    gl_ClipDistance[0] = 1.0;
}
"""

TABLE_SHADE = (
    """
#version 330 core
uniform vec3 dark; uniform vec3 ground; uniform vec4 table;
in vec3 p; out vec4 colour;
"""
    + _LAMPLIGHT
    + """
void main() {
    float lit = normalize(lamp - p).z * reached(p) * fading(p);
    float edge = smoothstep(1.0, 0.35, length(p.xy - table.xy) / table.z);
    colour = vec4(mix(dark, ground * (0.34 + 0.85 * lit * vec3(1.0, 0.93, 0.80)), edge), 1.0);
}
"""
)

FROM_LAMP = """
#version 330 core
uniform mat4 side;
in vec3 at; in vec3 shift; out vec3 p;
void main() { p = at + shift; gl_Position = side * vec4(p, 1.0); gl_ClipDistance[0] = 1.0; }
"""

DISTANCE = """
#version 330 core
uniform vec3 lamp; in vec3 p; out float near;
void main() { near = length(p - lamp); }
"""
