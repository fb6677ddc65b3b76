#!/usr/bin/env bash
# Makes a Debian package of the program: dist/copper-lark_VERSION_ARCHITECTURE.deb. VERSION is that of CHANGELOG.md with the
# date and commit behind it, or what the environment says.
set -euo pipefail
cd "$(dirname "$0")/.."
architecture=$(dpkg --print-architecture)
version=${VERSION:-0.$(git log -1 --format=%cd --date=format:%Y%m%d).$(git rev-list --count HEAD)}
root=$(mktemp -d)
trap 'rm -rf "$root"' EXIT
install -D -m 0755 bin/lark "$root/usr/bin/lark"
strip --strip-unneeded "$root/usr/bin/lark" 2>/dev/null || true
install -D -m 0644 packaging/copper-lark.service "$root/usr/lib/systemd/system/copper-lark.service"
bin/lark settings > "$root/settings"
install -D -m 0640 "$root/settings" "$root/etc/copper-lark/settings"
rm "$root/settings"
documents="$root/usr/share/doc/copper-lark"
install -d -m 0755 "$documents"
install -m 0644 docs/operating.md docs/guide.md THIRD-PARTY.md "$documents/"
printf 'Copper Lark. What it is built of, and under which licences, is in THIRD-PARTY.md.\n' > "$documents/copyright"
gzip -9n < CHANGELOG.md > "$documents/changelog.gz"
install -d -m 0755 "$root/DEBIAN"
sed -e "s/@VERSION@/$version/" -e "s/@ARCHITECTURE@/$architecture/" -e "s/@SIZE@/$(du -sk "$root/usr" | cut -f1)/" packaging/control.in > "$root/DEBIAN/control"
echo /etc/copper-lark/settings > "$root/DEBIAN/conffiles"
for script in postinst prerm postrm; do install -m 0755 "packaging/$script" "$root/DEBIAN/$script"; done
mkdir -p dist
dpkg-deb --root-owner-group -Zxz --build "$root" "dist/copper-lark_${version}_${architecture}.deb"
