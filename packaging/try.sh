#!/bin/bash
# Runs inside the root of package-test.sh: installs, starts, upgrades, goes back, removes.
set -euo pipefail
export PATH=/usr/sbin:/usr/bin:/sbin:/bin
say() { echo "package: $*"; }
fail() { say "FAILED: $*"; exit 1; }
command -v adduser >/dev/null || { say "adduser is missing here; a stand-in is used"; printf '#!/bin/sh\nexec useradd --system --user-group --home-dir /var/lib/copper-lark --no-create-home --shell /usr/sbin/nologin copper-lark\n' > /usr/sbin/adduser; chmod +x /usr/sbin/adduser; }
dpkg --force-depends -i /tmp/copper-lark_1.0_*.deb
getent passwd copper-lark >/dev/null || fail "no user of its own"
[ "$(stat -c %U:%a /var/lib/copper-lark)" = copper-lark:750 ] || fail "the folder is not its own"
[ "$(stat -c %G:%a /etc/copper-lark/settings)" = copper-lark:640 ] || fail "settings can be read by others"
if command -v systemd-analyze >/dev/null; then
  systemd-analyze verify /usr/lib/systemd/system/copper-lark.service || fail "the unit is not well formed"
  systemd-analyze security --offline=true --threshold=30 /usr/lib/systemd/system/copper-lark.service | tail -1
fi
echo 'LISTEN_PORT=8899' >> /etc/copper-lark/settings
# The unit's own line, as its user, with its settings.
start() {
  ( set -a; . /etc/copper-lark/settings; set +a
    command=$(sed -n 's/^ExecStart=//p' /usr/lib/systemd/system/copper-lark.service)
    eval "exec setpriv --reuid copper-lark --regid copper-lark --init-groups --no-new-privs $command" ) > /tmp/out 2> /tmp/err &
  program=$!
  for _ in $(seq 120); do
    sleep 0.5
    if (exec 3<>/dev/tcp/127.0.0.1/8899) 2>/dev/null && ask /ready | grep -q '200 OK'; then return; fi
    kill -0 $program 2>/dev/null || { cat /tmp/err; fail "it ended"; }
  done
  cat /tmp/err
  fail "it does not answer"
}
stop() { kill -TERM $program; wait $program || true; }
ask() { exec 3<>/dev/tcp/127.0.0.1/8899; printf 'GET %s HTTP/1.0\r\nHost: 127.0.0.1\r\n\r\n' "$1" >&3; cat <&3; exec 3>&-; }
start
grep -q '/first/' /tmp/out || fail "no link that makes the first owner"
LARK_PASSWORD='three quiet hedges' setpriv --reuid copper-lark --regid copper-lark --init-groups lark person --data /var/lib/copper-lark/data \
  --email anwen@thornwick.example --name Anwen --new-space 'Thornwick apiaries'
stop
say "installed and started"
dpkg --force-depends -i /tmp/copper-lark_1.1_*.deb
dpkg -s copper-lark | grep -q '^Version: 1.1' || fail "not upgraded"
grep -q 'LISTEN_PORT=8899' /etc/copper-lark/settings || fail "the settings were lost"
start
stop
say "upgraded; settings and data stay"
setpriv --reuid copper-lark --regid copper-lark --init-groups lark backup --data /var/lib/copper-lark/data /var/lib/copper-lark/way-back
dpkg --force-depends -i /tmp/copper-lark_1.0_*.deb
mv /var/lib/copper-lark/data /var/lib/copper-lark/newer
cp /usr/lib/systemd/system/copper-lark.service /tmp/unit
sed -i 's#--no-demo#--no-demo --from /var/lib/copper-lark/way-back#' /usr/lib/systemd/system/copper-lark.service
start
setpriv --reuid copper-lark --regid copper-lark --init-groups lark person --link --email anwen@thornwick.example --data /var/lib/copper-lark/data \
  | grep -q '/password/' || fail "the way back lost somebody"
stop
cp /tmp/unit /usr/lib/systemd/system/copper-lark.service
dpkg -r --force-depends copper-lark
[ ! -e /usr/bin/lark ] || fail "the program is still there"
[ -e /var/lib/copper-lark/data ] || fail "removing the package took the data"
say "went back, removed; the data stays"
