#!/bin/sh
# Installs Python packages: install_packages.sh PYTHON WORDS..., the words as pip has them. By uv, which takes seconds where pip
# takes a minute; by pip where uv cannot be had, or finds less than pip is told to.
set -eu
python=$1
shift
if [ -x "${UV:=$(dirname "$0")/../.venv/bin/uv}" ] && "$UV" pip install -q --system-certs --python "$python" "$@" 2>/dev/null; then exit 0; fi
exec "$python" -m pip install -qq --disable-pip-version-check "$@"
