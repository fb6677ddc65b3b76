#!/usr/bin/env bash
# Tries the Debian package in a root of its own: an overlay over this machine's, which vanishes with it. It needs root.
set -euo pipefail
cd "$(dirname "$0")/.."
[ "$(id -u)" -eq 0 ] || { echo "run it as root: it mounts an overlay" >&2; exit 2; }
if [ "${1:-}" != inside ]; then
  VERSION=1.0 scripts/package.sh
  VERSION=1.1 scripts/package.sh
  exec unshare --mount --pid --fork --kill-child "$0" inside
fi
place=$(mktemp -d)
mount -t tmpfs tmpfs "$place"
mkdir "$place"/{upper,work,root}
mount -t overlay overlay -o "lowerdir=/,upperdir=$place/upper,workdir=$place/work" "$place/root"
mount -t proc proc "$place/root/proc"
mount --bind /dev "$place/root/dev"
cp dist/copper-lark_1.[01]_*.deb packaging/try.sh "$place/root/tmp/"
chroot "$place/root" /bin/bash /tmp/try.sh
