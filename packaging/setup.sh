# Shared by ./run and ./test: what they need on a fresh Debian machine. Sourced, not run.

# A package that newer releases renamed stands with its new name after a bar.
SYSTEM_PACKAGES="xvfb libglib2.0-0|libglib2.0-0t64 libegl1 libgl1 libgl1-mesa-dri libxkbcommon-x11-0 libxcb-cursor0
libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0
libxcb-xinerama0 libxcb-xkb1 libdbus-1-3 fontconfig"

missing_packages() {
    command -v dpkg-query >/dev/null || return 0
    local package
    for package in $SYSTEM_PACKAGES; do
        # shellcheck disable=SC2086
        dpkg-query -W -f='${db:Status-Status}\n' ${package//|/ } 2>/dev/null |
            grep -qx installed || echo "${package%%|*}"
    done
    python3 -c 'import ensurepip, venv' 2>/dev/null || echo python3-venv
}

install_packages() {
    local wanted
    wanted=$(missing_packages | tr '\n' ' ')
    [ -z "${wanted// /}" ] && return 0
    local as_root=""
    if [ "$(id -u)" -ne 0 ]; then
        if ! sudo -n true 2>/dev/null; then
            echo "Anzel needs some system packages. Please type this once, then start again:" >&2
            echo "sudo apt-get install -y $wanted" >&2
            exit 1
        fi
        as_root="sudo -n"
    fi
    $as_root apt-get update -qq
    # shellcheck disable=SC2086
    DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends $wanted
}

set_up() {
    python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' ||
        { echo "Anzel needs Python 3.11 or newer." >&2; exit 1; }
    install_packages
    local wanted stamp=.venv/anzel-stamp
    wanted=$(cat requirements.lock pyproject.toml | sha256sum)
    if [ ! -x .venv/bin/anzel ] || [ "$(cat $stamp 2>/dev/null)" != "$wanted" ]; then
        python3 -m venv .venv
        .venv/bin/python -m pip install -q --disable-pip-version-check -r requirements.lock
        .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps -e .
        echo "$wanted" >$stamp
    fi
}

# Runs a command on the screen there is, or on a virtual one.
with_display() {
    if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]; then
        exec "$@"
    fi
    local number status=0
    number=$(mktemp)
    Xvfb -displayfd 3 -screen 0 1400x900x24 -nolisten tcp 3>"$number" 2>/dev/null &
    local server=$!
    # shellcheck disable=SC2064
    trap "kill $server 2>/dev/null; rm -f $number" EXIT INT TERM
    while [ ! -s "$number" ] && kill -0 $server 2>/dev/null; do sleep 0.05; done
    DISPLAY=":$(cat "$number")" "$@" || status=$?
    return $status
}
