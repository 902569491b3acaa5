// An empty jetty in the evening, upright.
#declare Seed = 21;
#include "brindlemere.inc"
camera { location <0.55,2.05,-4.6> right x*0.75 look_at <-0.1,1.35,6> angle 40 }
Sun(<0.55,0.20,0.95>, <2.1,1.25,0.62>*1.2)
SkyFill(<0.34,0.30,0.44>*0.75)
Sky(<1.0,0.66,0.36>, <0.30,0.34,0.58>, <1,0.62,0.48>, 0.70)
Haze(<0.86,0.62,0.48>, 340)
Lake(<0.02,0.045,0.07>, 0.13)
object { Hills(110,320,80,5.5,<0.08,0.09,0.07>) }
object { Hills(60,140,22,1.4,<0.05,0.07,0.045>) translate x*-40 }
union { Pines(40,-44,-12,46,64,-0.3,<0.035,0.06,0.04>) }
object { Jetty(1.7,9.5,0.45) translate <0,0,-3.8> }
object { Kayak(Orange,Orange) rotate z*0 rotate y*96 translate <-2.05,-0.06,1.2> }
object { Kayak(Teal,Teal*1.2) rotate y*83 translate <2.1,-0.06,2.6> }
object { Paddle(Yellow) rotate x*90 rotate y*8 translate <0.25,0.49,1.0> }
union { torus { 0.16,0.022 } torus { 0.13,0.022 translate y*0.03 } torus { 0.16,0.022 translate <0.02,0.055,0.02> } pigment { rgb Cream*0.8 } normal { bumps 0.6 scale 0.02 } translate <-0.45,0.475,-0.9> }
union { Reeds(260,-6,-2.6,-1.5,4) }
union { Reeds(120,3.4,7,1,6) }
