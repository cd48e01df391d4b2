# Makes swim.csv, the demo's recording of the otter: made up, 30 s at 30 rows a second.
#   awk -f swim.awk > swim.csv
# Columns: t (s), east, up, south (m), nose (deg: 0 points north, left positive), drive (0 to 1: how hard it swims).
# Each line of the plan is a stretch: seconds, speed (m/s), turn (deg/s, left positive), and how deep it swims (m).
# Speed, turn and depth go over into the next stretch within a few tenths of a second; in turns it slips sideways, since
# the way it travels lags behind the way its nose points.
BEGIN {
  split("4.0 2.2 0 0|1.6 1.4 95 0|4.0 2.5 -6 0|0.8 1.0 -80 0|2.6 0 0 0|3.0 1.8 38 -0.2|3.2 2.7 0 -0.5|1.4 1.1 130 -0.2|3.6 2.0 -32 0|3.2 2.4 14 0|2.6 0 0 0", plan, "|")
  rate = 30; dt = 1 / rate; pi = atan2(0, -1)
  x = -7; z = 4; nose = -70; travel = nose; speed = 1.8; turn = 0; depth = 0; drive = 0.8
  print "t,east,up,south,nose,drive"
  stretch = 1; split(plan[1], now, " "); ends = now[1]
  for (k = 0; k <= 30 * rate; ++k) {
    t = k * dt
    while (t >= ends - 1e-9 && stretch < 11) { split(plan[++stretch], now, " "); ends += now[1] }
    bob = 0.04 * sin(2 * pi * 0.9 * t) * (0.3 + speed / 3)
    printf "%.4f,%.4f,%.4f,%.4f,%.2f,%.3f\n", t, x, depth + bob, z, nose, drive
    wanted = now[2] / 2.7
    drive += (wanted - drive) * 0.25
    speed += (now[2] - speed) * 0.09
    turn += (now[3] - turn) * 0.15
    depth += (now[4] - depth) * 0.06
    nose += turn * dt
    travel += (nose - travel) * 0.14
    x -= sin(travel * pi / 180) * speed * dt
    z -= cos(travel * pi / 180) * speed * dt
  }
}
