# Shared by ./start, ./test, ./backup and ./restore: Python, PostgreSQL, secrets. Sourced, not run.

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

random_text() { .venv/bin/python -c 'import secrets, sys; print(secrets.token_urlsafe(int(sys.argv[1])))' "$1"; }

# secret NAME: the content of var/NAME, made at the first start and kept.
secret() {
    make_var
    [ -s "var/$1" ] || (umask 077; random_text "${2:-40}" >"var/$1")
    cat "var/$1"
}

make_var() {
    { mkdir -p var && [ -w var ] && chmod 700 var; } 2>/dev/null \
        || stop_with "This checkout cannot be written: $PWD/var. Put it where you may write, or run as who may."
}

# lock NAME: held until this shell ends; false where another holds it. What is started in the background closes it (9>&-).
lock() {
    make_var
    exec 9>"var/$1.lock"
    flock --nonblock 9
}

# ------------------------------------------------------------------------------------------------------- processes

# When a process began, in ticks of the kernel: with its number it is that process and no later one of the same number.
begun_at() { sed 's/^.*) //' "/proc/$1/stat" 2>/dev/null | cut -d' ' -f20; }

# write_down_running PID: what ./start runs, so that the next one finds it should this one be killed.
write_down_running() { printf '%s %s\n' "$1" "$(begun_at "$1")" >>var/running; }

# End what an earlier ./start of this checkout left behind when it was killed: by number, beginning, and what it runs.
end_left_behind() {
    local pid begun left=() child
    [ -s var/running ] || return 0
    while read -r pid begun; do
        [ -n "$begun" ] && [ "$(begun_at "$pid")" = "$begun" ] || continue
        [ "$(readlink "/proc/$pid/cwd" 2>/dev/null)" = "$(pwd -P)" ] || continue
        tr '\0' ' ' <"/proc/$pid/cmdline" | grep -Eq 'skavit\.wsgi|manage\.py (work|procrastinate worker)( |$)' || continue
        left+=("$pid")
        for child in $(cat "/proc/$pid/task/$pid/children" 2>/dev/null); do left+=("$child"); done
    done <var/running
    rm -f var/running
    [ ${#left[@]} -gt 0 ] || return 0
    say "Ending what an earlier ./start left behind."
    kill -TERM "${left[@]}" 2>/dev/null || true
    for _ in 1 2 3 4 5 6 7 8 9 10; do
        kill -0 "${left[@]}" 2>/dev/null || return 0
        sleep 0.5
    done
    kill -KILL "${left[@]}" 2>/dev/null || true
    sleep 0.5
}

# answers PORT: whether Skavit answers there by now.
answers() {
    .venv/bin/python - "$1" <<'PY'
import sys, urllib.request
try:
    with urllib.request.urlopen(f"http://127.0.0.1:{sys.argv[1]}/health/", timeout=2) as answer:
        sys.exit(answer.status != 200)
except OSError:
    sys.exit(1)
PY
}

# Pango draws the PDF of an entry sheet.
find_pango() {
    local library
    for library in libpango-1.0.so.0 libpangoft2-1.0.so.0 libharfbuzz-subset.so.0; do
        compgen -G "/usr/lib/*/$library" >/dev/null || compgen -G "/usr/lib/$library" >/dev/null || {
            apt_install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0
            return
        }
    done
}

# ------------------------------------------------------------------------------------------------------- the database
#
# A cluster of this checkout. Its superuser has no password and is in no line of pg_hba.conf, so nobody can log in as it:
# roles and databases are made in single-user mode, while the server is down. Skavit's own role is no superuser.
# Root keeps the cluster under /var/lib, since the postgres user may not reach into root's home; the password of
# Skavit's role stands beside the cluster, and is only ever written by the cluster's owner.

PG_ROLE=skavit_app PG_DATABASE=skavit

# cluster_at NAME: where the cluster of that name is kept.
cluster_at() {
    if [ "$(id -u)" = 0 ]; then
        PG_HOME=/var/lib/skavit/$(pwd -P | sha256sum | cut -c1-12)
    else
        make_var
        PG_HOME=$PWD/var
    fi
    PG_DATA=$PG_HOME/$1 PG_PASSWORD_FILE=$PG_HOME/$1.password
}

has_cluster() { [ -s "$PG_DATA/PG_VERSION" ]; }

# A cluster is run by the release that made it, the newest makes one.
find_postgres() {
    PG_BIN=$(newest_postgres)
    if has_cluster; then
        PG_BIN=/usr/lib/postgresql/$(cat "$PG_DATA/PG_VERSION")/bin
        [ -x "$PG_BIN/postgres" ] || stop_with "The cluster $PG_DATA is of PostgreSQL $(cat "$PG_DATA/PG_VERSION"), which is not installed here. Install it, or set the cluster aside (./start --set-aside)."
    elif [ ! -x "$PG_BIN/initdb" ]; then
        apt_install postgresql
        PG_BIN=$(newest_postgres)
        [ -x "$PG_BIN/initdb" ] || stop_with "Missing: PostgreSQL server programs under /usr/lib/postgresql."
    fi
}

newest_postgres() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1; }

# initdb and the server refuse to run as root, so root hands them to Debian's postgres user.
as_postgres() {
    if [ "$(id -u)" = 0 ]; then (cd / && exec setpriv --reuid=postgres --regid=postgres --init-groups "$@")
    else "$@"
    fi
}

# The statements on standard input, a line each, by the superuser of a cluster that is down.
in_single_mode() {
    as_postgres "$PG_BIN/postgres" --single -c exit_on_error=true -D "$PG_DATA" "$1" 2>>"var/postgres.log"
}

make_cluster() {
    say "Creating the database cluster ..."
    if [ "$(id -u)" = 0 ]; then
        id postgres >/dev/null 2>&1 || stop_with "Missing: the system user postgres, which Debian's postgresql package makes."
        install -d -m 755 /var/lib/skavit
        install -d -m 700 -o postgres -g postgres "$PG_HOME" "$PG_DATA"
    else
        mkdir -p "$PG_DATA" && chmod 700 "$PG_DATA"
    fi
    as_postgres "$PG_BIN/initdb" -D "$PG_DATA" -U skavit_admin -A reject -E UTF8 --locale=C.UTF-8 >/dev/null \
        || stop_with "initdb failed in $PG_DATA."
}

# The role with a password of its own and its database; in a cluster of an earlier release its tables become the role's.
make_role() {
    local password rights=$1
    make_var
    password=$(random_text 40)
    printf '%s\n' "$password" | as_postgres sh -c 'umask 077; cat >"$1"' sh "$PG_PASSWORD_FILE" \
        || stop_with "Could not write $PG_PASSWORD_FILE."
    printf 'host all %s 127.0.0.1/32 scram-sha-256\n' "$PG_ROLE" | as_postgres sh -c 'cat >"$1"' sh "$PG_DATA/pg_hba.conf"
    printf '%s\n' \
        "DO \$\$ BEGIN IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '$PG_ROLE') THEN CREATE ROLE $PG_ROLE; END IF; END \$\$;" \
        "ALTER ROLE $PG_ROLE LOGIN NOSUPERUSER $rights PASSWORD '$password';" \
        | in_single_mode postgres >/dev/null || stop_with "Could not make the database role; see var/postgres.log."
    if printf 'SELECT datname FROM pg_database;\n' | in_single_mode postgres | grep -q "\"$PG_DATABASE\""; then
        printf '%s\n' \
            "ALTER DATABASE $PG_DATABASE OWNER TO $PG_ROLE;" \
            "DO \$\$ DECLARE t record; BEGIN FOR t IN SELECT tablename FROM pg_tables WHERE schemaname = 'public' LOOP EXECUTE format('ALTER TABLE public.%I OWNER TO $PG_ROLE', t.tablename); END LOOP; END \$\$;" \
            | in_single_mode "$PG_DATABASE" >/dev/null || stop_with "Could not hand the tables to the database role; see var/postgres.log."
    else
        printf 'CREATE DATABASE %s OWNER %s;\n' "$PG_DATABASE" "$PG_ROLE" | in_single_mode postgres >/dev/null \
            || stop_with "Could not create the database $PG_DATABASE; see var/postgres.log."
    fi
}

postgres_runs() { as_postgres "$PG_BIN/pg_ctl" -D "$PG_DATA" status >/dev/null 2>&1; }

# free_port: one that nothing listens on, below those that the system hands to outgoing connections meanwhile.
free_port() {
    .venv/bin/python - <<'PY'
import random, socket, sys

for port in random.sample(range(15000, 32000), 50):
    with socket.socket() as s:
        if s.connect_ex(("127.0.0.1", port)):
            print(port)
            sys.exit()
sys.exit(1)
PY
}

# start_postgres NAME [RIGHTS]: the cluster of that name, made where there is none, listening on loopback.
start_postgres() {
    cluster_at "$1"
    find_postgres
    has_cluster || make_cluster
    if [ ! -s "$PG_PASSWORD_FILE" ]; then
        ! postgres_runs || stop_postgres
        make_role "${2:-NOCREATEDB}"
    fi
    SKAVIT_DB_PASSWORD=$(cat "$PG_PASSWORD_FILE")
    export SKAVIT_DB_PASSWORD SKAVIT_DB_HOST=127.0.0.1 SKAVIT_DB_USER=$PG_ROLE SKAVIT_DB_NAME=$PG_DATABASE
    if ! postgres_runs; then
        SKAVIT_DB_PORT=$(free_port) || stop_with "Fifty ports from 15000 to 32000 are taken; PostgreSQL needs one."
        run_postgres || stop_with "PostgreSQL did not start; see $PG_DATA/server.log."
    fi
    # The fourth line of the server's own file is the port that it listens on.
    SKAVIT_DB_PORT=$(as_postgres sed -n 4p "$PG_DATA/postmaster.pid")
    export SKAVIT_DB_PORT
}

# PG_OPTIONS: what else the server is told; ./test lets it forget what it wrote at a power cut.
run_postgres() {
    as_postgres "$PG_BIN/pg_ctl" -D "$PG_DATA" -l "$PG_DATA/server.log" -w -s start \
        -o "-p $SKAVIT_DB_PORT -c listen_addresses=127.0.0.1 -c unix_socket_directories='' ${PG_OPTIONS:-}" 9>&-
}

stop_postgres() { ! postgres_runs || as_postgres "$PG_BIN/pg_ctl" -D "$PG_DATA" -m fast -w -s stop || true; }

# set_aside: keep the cluster that is there beside, under a name with the date, so that another can be made in its place.
set_aside() {
    local aside
    aside=$PG_DATA.$(date +%Y-%m-%dT%H%M%S)
    find_postgres
    stop_postgres
    mv "$PG_DATA" "$aside" || stop_with "Could not set $PG_DATA aside."
    rm -f "$PG_PASSWORD_FILE" var/begun
    say "Set aside: $aside"
    PG_ASIDE=$aside
}

psql_app() { PGPASSWORD=$SKAVIT_DB_PASSWORD "$PG_BIN/psql" -h 127.0.0.1 -p "$SKAVIT_DB_PORT" -U "$PG_ROLE" -d "$PG_DATABASE" -tAq "$@"; }
