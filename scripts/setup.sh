#!/bin/sh
# Installs from Debian's packages what is missing: PostgreSQL, Chromium, admesh, poppler-utils (the tests read PDF with it).
set -eu

missing=""
ls /usr/lib/postgresql/*/bin/postgres >/dev/null 2>&1 || command -v postgres >/dev/null 2>&1 || missing="$missing postgresql"
command -v chromium >/dev/null 2>&1 || missing="$missing chromium"
command -v admesh >/dev/null 2>&1 || missing="$missing admesh"
command -v pdftotext >/dev/null 2>&1 || missing="$missing poppler-utils"
[ -n "$missing" ] || exit 0

if ! command -v apt-get >/dev/null 2>&1; then
	echo "Missing:$missing. Install them with this system's package manager and try again." >&2
	exit 1
fi
as_root=""
if [ "$(id -u)" -ne 0 ]; then
	command -v sudo >/dev/null 2>&1 || { echo "Missing:$missing. Run as root: apt-get install$missing" >&2; exit 1; }
	as_root=sudo
fi
echo "Installing$missing from Debian's packages ..."
$as_root apt-get update -qq
# A cluster of the system's own is not wanted.
$as_root sh -c 'mkdir -p /etc/postgresql-common && { [ -e /etc/postgresql-common/createcluster.conf ] || echo "create_main_cluster = false" >/etc/postgresql-common/createcluster.conf; }'
# shellcheck disable=SC2086
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends $missing >/dev/null
