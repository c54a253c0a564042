bit first = 1; bit n;
byte c0; /* chooser */
byte c1; /* act_key */
bit v0 = 0; bit b0; bit w0; byte t0; /* act */
bit v1 = 0; bit b1; bit w1; byte t1; /* acts */
bit v2 = 0; bit b2; bit w2; byte t2; /* to_water */
bit v3 = 0; bit b3; bit w3; byte t3; /* to_land */
bit v4 = 0; bit b4; bit w4; byte t4; /* to_shore */
bit v5 = 0; bit b5; bit w5; byte t5; /* not_water */
bit v6 = 0; bit b6; bit w6; byte t6; /* not_shore */
bit v7 = 0; bit b7; bit w7; byte t7; /* at_water */
bit v8 = 1; bit b8; bit w8; byte t8; /* at_shore */
bit v9 = 0; bit b9; bit w9; byte t9; /* skirt_wanted */
bit v10 = 0; bit b10; bit w10; byte t10; /* skirt_left */
bit v11 = 0; bit b11; bit w11; byte t11; /* ramp_wanted */
inline frame() {
  n = (c1 == 1);
  t0 = (!n -> 255 : ((first || t0 == 255) -> 0 : (t0 < 50 -> t0 + 1 : 50)));
  v0 = n && t0 >= 50;
  n = v0; v1 = !first && (n && !w1); w1 = n;
  v2 = v1 && (c0 == 2);
  v3 = v1 && (c0 == 0);
  v4 = v1 && (c0 == 1);
  v5 = v3 || v4;
  v6 = v3 || v2;
  v7 = (v2 || v7) && !v5;
  v8 = (v4 || v8) && !v6;
  v9 = v7;
  n = v9;
  t10 = (n -> 255 : (first -> 150 : (t10 == 255 -> 0 : (t10 < 150 -> t10 + 1 : 150))));
  v10 = n || t10 < 150;
  v11 = v8 && (!v10);
  assert(!(v10 && v11 && v7));
  first = 0; n = 0;
  c0 = 0;
  c1 = 0;
  b0 = 0;
  v0 = 0;
  b1 = 0;
  v1 = 0;
  b2 = 0;
  v2 = 0;
  b3 = 0;
  v3 = 0;
  b4 = 0;
  v4 = 0;
  b5 = 0;
  v5 = 0;
  b6 = 0;
  v6 = 0;
  b7 = 0;
  b8 = 0;
  b9 = 0;
  v9 = 0;
  b10 = 0;
  v10 = 0;
  b11 = 0;
  v11 = 0;
}
init {
  atomic {
    if
    :: c0 = 0
    :: c0 = 1
    :: c0 = 2
    fi;
    c1 = 0;
    frame() }
  do
  :: atomic {
    if
    :: c0 = 0
    :: c0 = 1
    :: c0 = 2
    fi;
    if
    :: c1 = 0
    :: c1 = 1
    fi;
    frame() }
  od
}
