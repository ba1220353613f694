#!/bin/sh
# Install the Debian packages of requirements-system.txt that are missing.
set -eu
cd "$(dirname "$0")/.."
command -v dpkg-query >/dev/null 2>&1 || {
    echo "No dpkg here: install the equivalents of requirements-system.txt yourself." >&2
    exit 0
}
wanted=$(grep -v '^#' requirements-system.txt)
python3 -c 'import ensurepip, venv' 2>/dev/null || wanted="$wanted python3-venv"
missing=""
for package in $wanted; do
    state=$(dpkg-query -W -f='${db:Status-Abbrev}' "$package" 2>/dev/null || true)
    case "$state" in
        ii*) ;;
        *) missing="$missing $package" ;;
    esac
done
[ -n "$missing" ] || exit 0
if [ "$(id -u)" = 0 ]; then
    root=""
elif command -v sudo >/dev/null 2>&1 && sudo -n true 2>/dev/null; then
    root="sudo"
elif command -v sudo >/dev/null 2>&1 && [ -t 0 ]; then
    root="sudo"
else
    echo "These system packages are missing, and neither root nor sudo is at hand:" >&2
    echo "   $missing" >&2
    echo "Ask an administrator to run: apt-get install$missing" >&2
    exit 1
fi
echo "Installing system packages:$missing"
export DEBIAN_FRONTEND=noninteractive
$root apt-get update -q
$root apt-get install -y -q --no-install-recommends $missing
