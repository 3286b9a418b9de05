# Shared by ./run and ./test: what they need on a fresh Debian machine. Sourced, not run.
# HERE is the project's folder; the caller's folder stays the current one. LOCKS are the lock files:
# the first is what the application runs with, others are what tests need besides.

# A package that newer releases renamed stands with its new name after a bar. apt finds the new
# package by the old name as well.
SYSTEM_PACKAGES="python3 python3-venv xvfb libglib2.0-0|libglib2.0-0t64 libegl1 libgl1 libgl1-mesa-dri
libxkbcommon-x11-0 libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0
libxcb-render-util0 libxcb-shape0 libxcb-xinerama0 libxcb-xkb1 libdbus-1-3 fontconfig
libwayland-client0 libwayland-cursor0 libwayland-egl1 libcups2|libcups2t64"

# Compiled modules are kept, or else each command and helper would compile all of Anzel anew.
unset PYTHONDONTWRITEBYTECODE

fail() {
    echo "Anzel: $*" >&2
    exit 1
}

# Whether the package, or one of its other names, is installed whole.
is_installed() {
    local name
    for name in ${1//|/ }; do
        case "$(dpkg-query -W -f='${db:Status-Status}' "$name" 2>/dev/null || true)" in
            installed) return 0 ;;
        esac
    done
    # a Python from elsewhere does as well as Debian's
    case "$1" in
        python3) command -v python3 >/dev/null ;;
        python3-venv) python3 -c 'import ensurepip, venv' 2>/dev/null ;;
        git) command -v git >/dev/null ;;
        *) return 1 ;;
    esac
}

missing_packages() {
    command -v dpkg-query >/dev/null || return 0
    local package
    for package in $SYSTEM_PACKAGES; do
        is_installed "$package" || echo "${package%%|*}"
    done
}

install_packages() {
    local wanted as_root=()
    wanted=$(missing_packages | tr '\n' ' ')
    wanted=${wanted% }
    [ -z "$wanted" ] && return 0
    if [ "$(id -u)" -ne 0 ]; then
        if ! sudo -n true 2>/dev/null; then
            echo "Anzel needs some system packages. Please type this once, then start again:" >&2
            local line="apt-get update && apt-get install -y --no-install-recommends $wanted"
            if command -v sudo >/dev/null; then
                echo "sudo sh -c '$line'" >&2
            else
                echo "su -c '$line'" >&2
            fi
            exit 1
        fi
        as_root=(sudo -n)
    fi
    echo "Installing system packages: $wanted" >&2
    export DEBIAN_FRONTEND=noninteractive
    local log
    log=$(mktemp)
    # shellcheck disable=SC2086
    if ! { ${as_root[@]+"${as_root[@]}"} apt-get update -qq &&
        ${as_root[@]+"${as_root[@]}"} apt-get install -y -qq --no-install-recommends $wanted; } \
        >"$log" 2>&1; then
        if grep -qE 'resolve|connect|Unable to fetch|Unable to locate' "$log"; then
            rm -f "$log"
            fail "the system packages could not be loaded; please connect to the network and start again."
        fi
        fail "the system packages could not be installed: $(grep '^E:' "$log" | head -n 1); see $log."
    fi
    rm -f "$log"
}

# What the environment was made from: another folder, Python or list of packages needs a new one.
made_from() {
    echo "$HERE"
    python3 -c 'import sys; print(sys.version, sys.base_prefix)'
    cat "$HERE"/requirements*.lock "$HERE/pyproject.toml"
}

# Whether the environment holds all that a lock file names, whole.
holds() {
    "$HERE/.venv/bin/python" "$HERE/packaging/check_environment.py" "$1"
}

load_packages() {
    local log="$HERE/.venv/set-up.log"
    if "$HERE/.venv/bin/python" -m pip install --disable-pip-version-check --retries 2 "$@" \
        2>"$log"; then
        return 0
    fi
    if grep -qE 'NewConnectionError|NameResolution|name resolution|timed out|unreachable' "$log"; then
        fail "the Python packages could not be loaded; please connect to the network and start again."
    fi
    fail "the Python packages could not be installed: $(grep '^ERROR' "$log" | tail -n 1); see $log."
}

set_up() {
    install_packages
    command -v python3 >/dev/null || fail "please install python3 (3.11 or newer) with venv."
    python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' ||
        fail "this needs Python 3.11 or newer; $(python3 -V) was found."
    python3 -c 'import ensurepip, venv' 2>/dev/null || fail "please install Python's venv module."
    exec 9<"$HERE"
    flock 9 # a second start waits until the first has set up
    local wanted
    wanted=$(made_from | sha256sum)
    if [ "$(cat "$HERE/.venv/anzel-stamp" 2>/dev/null)" != "$wanted" ] || ! holds "${LOCKS[0]}"; then
        echo "Loading the Python packages (about 300 MB, once) ..." >&2
        rm -rf "$HERE/.venv" || fail "$HERE/.venv cannot be made anew; please remove it."
        trap 'fail "the set-up was stopped; the next start makes it anew."' INT
        python3 -m venv "$HERE/.venv" 2>/dev/null || fail "$HERE/.venv could not be made; is the folder writable?"
        load_packages --require-hashes --no-deps -r "$HERE/${LOCKS[0]}"
        load_packages --no-deps --no-build-isolation -e "$HERE"
        echo "$wanted" >"$HERE/.venv/anzel-stamp"
        trap - INT
    fi
    local lock
    for lock in "${LOCKS[@]:1}"; do
        holds "$lock" || load_packages --require-hashes --no-deps -r "$HERE/$lock"
    done
    exec 9<&-
}

# Runs a command on the screen there is, or on a virtual one.
with_display() {
    if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}${QT_QPA_PLATFORM:-}" ]; then
        exec "$@"
    fi
    local number status=0
    number=$(mktemp)
    # in a session of its own, so that Ctrl-C ends the window first and the screen after it
    setsid Xvfb -displayfd 3 -screen 0 1400x900x24 -nolisten tcp -noreset 3>"$number" 2>/dev/null &
    local server=$!
    # shellcheck disable=SC2064
    trap "kill $server 2>/dev/null; rm -f $number" EXIT
    trap : INT TERM
    while [ ! -s "$number" ] && kill -0 $server 2>/dev/null; do sleep 0.05; done
    DISPLAY=":$(cat "$number")"
    [ "$DISPLAY" != ":" ] || fail "there is no screen, and no virtual one could be started."
    export DISPLAY
    case " $* " in
        *" --picture "*) ;;
        *) echo "There is no screen here, so Anzel runs on a virtual one, $DISPLAY. To see it, save a" \
            "picture with ./run --picture OUT.png, or connect a remote viewer to $DISPLAY; to leave" \
            "it, press Ctrl-C." >&2 ;;
    esac
    "$@" &
    local window=$!
    trap 'kill -INT '$window INT
    trap 'kill -TERM '$window TERM
    while kill -0 $window 2>/dev/null; do
        status=0
        wait $window || status=$?
    done
    return $status
}
