#!/bin/sh
# Makes sure that a system package's command is there: need.sh COMMAND PACKAGE...
# Installs with apt where we may; otherwise says what to install.
set -eu
command="$1"; shift
case "$command" in
  python-venv) python3 -c 'import ensurepip, venv' 2>/dev/null && exit 0 ;;
  *) command -v "$command" >/dev/null 2>&1 && exit 0 ;;
esac
if [ "$(id -u)" = 0 ]; then run=""; elif command -v sudo >/dev/null 2>&1; then run="sudo"; else
  echo "Please install: $*  (apt-get install $*)" >&2; exit 1; fi
$run apt-get update -qq
DEBIAN_FRONTEND=noninteractive $run apt-get install -y -qq --no-install-recommends "$@" >/dev/null
