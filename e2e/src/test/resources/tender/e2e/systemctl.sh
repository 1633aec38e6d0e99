#!/bin/bash
# Carries out the command lines of the packages' own unit files where systemd does not run.
verb=$1 unit=${2%.service}
echo "$verb $unit" >> @FOLDER@/systemctl.log
case $unit in *@*) name=${unit%%@*}@ i=${unit#*@} ;; *) name=$unit i= ;; esac
file=/lib/systemd/system/$name.service
[ -e "$file" ] || { echo "Unit $unit.service not found." >&2; exit 5; }
lines() { sed -n "s/^$1=//p" "$file" | sed "s|%i|$i|g; s|%t|/run|g"; }
pid=@FOLDER@/$unit.pid
start() {
  cd "$(lines WorkingDirectory | tail -1)" 2>/dev/null || cd /
  if [ "$(lines Type)" = oneshot ]; then lines ExecStart | while read -r l; do bash -c "$l" >> @FOLDER@/units.log 2>&1 || exit 1; done
  else setsid bash -c "echo \$\$ > $pid; exec $(lines ExecStart)" >> @FOLDER@/units.log 2>&1 < /dev/null &
    lines ExecStartPost | while read -r l; do
      for i in $(seq 50); do bash -c "$l" >> @FOLDER@/units.log 2>&1 && break; sleep 0.1; done
    done
  fi
}
stop() {
  lines ExecStop | while read -r l; do bash -c "$l" >> @FOLDER@/units.log 2>&1; done
  [ -e "$pid" ] && kill "$(cat "$pid")" 2>/dev/null && while kill -0 "$(cat "$pid")" 2>/dev/null; do sleep 0.05; done
  return 0
}
case $verb in
  start) start ;;
  restart) stop; start ;;
  reload)
    [ -n "$(lines ExecReload)" ] || { echo "Job type reload is not applicable for unit $unit.service." >&2; exit 1; }
    lines ExecReload | while read -r l; do bash -c "$l" >> @FOLDER@/units.log 2>&1 || exit 1; done ;;
  *) exit 1 ;;
esac
