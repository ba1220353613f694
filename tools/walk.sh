#!/bin/sh
# Walk the stations with the demo project on a virtual display: walk.sh BIN FOLDER
set -eu
bin=$1
folder=$2
state=$(mktemp -d)
trap 'rm -rf "$state"' EXIT
rm -rf "$folder"
mkdir -p "$folder"
XDG_STATE_HOME="$state/state" XDG_CONFIG_HOME="$state/config" XDG_DATA_HOME="$state/data" JADEITE_WALK="$folder" \
    timeout 900 xvfb-run -a -s "-screen 0 1400x900x24" "$bin/jadeite" --demo
