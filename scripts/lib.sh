# Shared by ./start and ./test: Python, PostgreSQL and the secrets of this checkout. Sourced, not run.

say() { printf '%s\n' "$*"; }
stop_with() { printf '%s\n' "$*" >&2; exit 1; }

as_admin() {
    if [ "$(id -u)" = 0 ]; then "$@"
    elif command -v sudo >/dev/null; then sudo "$@"
    else stop_with "This step needs root or sudo: $*"
    fi
}

apt_install() {
    command -v apt-get >/dev/null || stop_with "Missing: $*. Install it by hand; this system has no apt-get."
    say "Installing from Debian: $*"
    as_admin apt-get update -qq || say "The package lists could not be brought up to date; going on with those at hand."
    as_admin env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$@" >/dev/null \
        || stop_with "Could not install from Debian's packages: $*"
}

find_python() {
    local candidate
    for candidate in python3.11 python3; do
        if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))'; then
            PYTHON=$(command -v "$candidate"); return
        fi
    done
    stop_with "Missing: Python 3.11 (python3.11 or python3 on the path)."
}

# venv FILE...: .venv holds just what the hashed requirement files name.
venv() {
    local wanted stamp=.venv/installed
    wanted=$(cat "$@" | sha256sum | cut -d' ' -f1)
    if [ ! -x .venv/bin/python ]; then
        find_python
        "$PYTHON" -c 'import ensurepip' 2>/dev/null || apt_install python3-venv
        "$PYTHON" -m venv .venv || stop_with "Could not make the virtual environment .venv."
    fi
    if ! grep -qsx "$wanted" "$stamp"; then
        say "Installing Python packages ..."
        local arguments=() file
        for file in "$@"; do arguments+=(-r "$file"); done
        .venv/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes "${arguments[@]}" \
            || stop_with "Could not install the Python packages; see the lines above."
        printf '%s\n' "$wanted" >>"$stamp"
    fi
}

# secret NAME: the content of var/NAME, made at the first start and kept.
secret() {
    mkdir -p var && chmod 700 var
    if [ ! -s "var/$1" ]; then
        (umask 077; .venv/bin/python -c 'import secrets; print(secrets.token_urlsafe(int(__import__("sys").argv[1])))' "${2:-40}" >"var/$1")
    fi
    cat "var/$1"
}

# Pango draws the PDF of an entry sheet.
find_pango() {
    if ! ls /usr/lib/*/libpangoft2-1.0.so.0 /usr/lib/libpangoft2-1.0.so.0 >/dev/null 2>&1; then
        apt_install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0
    fi
}

find_postgres() {
    local found
    found=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
    if [ -z "$found" ] || [ ! -x "$found/initdb" ]; then
        apt_install postgresql
        found=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
    fi
    [ -n "$found" ] && [ -x "$found/initdb" ] || stop_with "Missing: PostgreSQL server programs under /usr/lib/postgresql."
    PG_BIN=$found
}

# initdb and the server refuse to run as root, so root hands them to Debian's postgres user.
as_postgres() {
    if [ "$(id -u)" = 0 ]; then (cd / && setpriv --reuid=postgres --regid=postgres --init-groups "$@")
    else "$@"
    fi
}

# A cluster of this checkout. Root keeps it under /var/lib: the postgres user may not reach into root's home.
start_postgres() {
    local name=$1 key
    find_postgres
    if [ "$(id -u)" = 0 ]; then
        id postgres >/dev/null 2>&1 || stop_with "Missing: the system user postgres, which Debian's postgresql package makes."
        key=$(pwd -P | sha256sum | cut -c1-12)
        PG_DATA=/var/lib/skavit/$key/$name
        install -d -m 755 /var/lib/skavit
        install -d -m 700 -o postgres -g postgres "/var/lib/skavit/$key" "$PG_DATA"
    else
        PG_DATA=$PWD/var/$name
        mkdir -p "$PG_DATA" && chmod 700 "$PG_DATA"
    fi
    SKAVIT_DB_PASSWORD=$(secret db_password)
    export SKAVIT_DB_PASSWORD
    if [ ! -s "$PG_DATA/PG_VERSION" ]; then
        say "Creating the database cluster ..."
        local password_file
        password_file=$(as_postgres mktemp "${TMPDIR:-/tmp}/skavit.XXXXXX")
        printf '%s\n' "$SKAVIT_DB_PASSWORD" >"$password_file"
        as_postgres "$PG_BIN/initdb" -D "$PG_DATA" -U skavit -A scram-sha-256 \
            --pwfile="$password_file" -E UTF8 --locale=C.UTF-8 >/dev/null || stop_with "initdb failed in $PG_DATA."
        rm -f "$password_file"
    fi
    if as_postgres "$PG_BIN/pg_ctl" -D "$PG_DATA" status >/dev/null 2>&1; then
        PG_OURS=no
    else
        PG_OURS=yes
        SKAVIT_DB_PORT=$(.venv/bin/python -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
        as_postgres "$PG_BIN/pg_ctl" -D "$PG_DATA" -l "$PG_DATA/server.log" -w -s start \
            -o "-p $SKAVIT_DB_PORT -c listen_addresses=127.0.0.1 -c unix_socket_directories=''" \
            || stop_with "PostgreSQL did not start; see $PG_DATA/server.log."
    fi
    # The fourth line of the server's own file is the port that it listens on.
    SKAVIT_DB_PORT=$(as_postgres sed -n 4p "$PG_DATA/postmaster.pid")
    export SKAVIT_DB_PORT SKAVIT_DB_HOST=127.0.0.1 SKAVIT_DB_USER=skavit
    PGPASSWORD=$SKAVIT_DB_PASSWORD "$PG_BIN/psql" -h 127.0.0.1 -p "$SKAVIT_DB_PORT" -U skavit -d postgres -tAq \
        -c "SELECT 1 FROM pg_database WHERE datname = 'skavit'" | grep -q 1 \
        || PGPASSWORD=$SKAVIT_DB_PASSWORD "$PG_BIN/createdb" -h 127.0.0.1 -p "$SKAVIT_DB_PORT" -U skavit skavit \
        || stop_with "Could not create the database skavit."
}

stop_postgres() {
    if [ "${PG_OURS:-no}" = yes ]; then as_postgres "$PG_BIN/pg_ctl" -D "$PG_DATA" -m fast -w -s stop || true; fi
}
