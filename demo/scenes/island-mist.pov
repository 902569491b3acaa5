// The island in the mist, before anyone is up.
#declare Seed = 27;
#include "brindlemere.inc"
camera { location <0,1.9,-10> right x*1.5 look_at <0.8,2.1,20> angle 44 }
Sun(<-0.45,0.30,0.9>, <1.35,1.15,0.85>)
SkyFill(<0.40,0.42,0.44>*0.9)
Sky(<0.93,0.85,0.72>, <0.56,0.66,0.74>, <1,0.95,0.88>, 0.55)
Haze(<0.86,0.82,0.75>, 130)
Lake(<0.03,0.06,0.07>, 0.055)
object { Hills(110,320,80,14.1,<0.08,0.11,0.07>) }
sphere { 0,1 scale <13,1.6,6> translate <3,-0.5,26> texture { Grass } }
union { Pines(30,-5,11,22,29,0.4,<0.05,0.10,0.05>) }
Stones(40,-9,15,19.4,20.5,-0.05,0.6)
object { Kayak(Red,Red) rotate y*65 translate <-1.5,-0.07,13> }
union { Reeds(240,-8,-3.2,-4,0) }
