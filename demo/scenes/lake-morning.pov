// Three juniors off the jetty on a clear morning.
#include "brindlemere.inc"
camera { location <-1.2,2.3,-7.6> right x*1.5 look_at <0.9,0.85,6> angle 52 }
Sun(<-0.75,0.62,-0.45>, <1.75,1.55,1.25>*1.15)
SkyFill(<0.28,0.36,0.48>*0.8)
Sky(<0.80,0.82,0.80>, <0.20,0.42,0.72>, <1,0.98,0.95>, 0.62)
Haze(<0.66,0.74,0.80>, 420)
Lake(<0.015,0.075,0.085>, 0.20)
object { Hills(120,330,95,3.1,<0.075,0.13,0.055>) }
object { Hills(60,150,26,8.4,<0.06,0.125,0.045>) translate x*30 }
union { Pines(60,-62,-14,42,60,-0.3,<0.045,0.12,0.05>) }
union { Pines(36,20,70,52,66,-0.3,<0.05,0.12,0.045>) }
object { Jetty(1.9,9,0.42) rotate y*-9 translate <-3.3,0,-6> }
union { Reeds(150,-9,-4.6,1.5,5) }
object { Paddler(Red,Red*1.1,Blue,Yellow,SkinA,srgb<0.35,0.2,0.1>,1,Cream,-24,28) rotate y*28 translate <1.5,-0.07,0.4> }
object { Paddler(Yellow,Yellow,Teal,Orange,SkinB,srgb<0.08,0.06,0.05>,0,Cream,20,-12) rotate y*12 translate <3.3,-0.07,4.4> }
object { Paddler(Teal,Teal*1.2,Plum,Yellow,SkinC,srgb<0.2,0.12,0.08>,2,Red,-16,10) rotate y*160 translate <0.4,-0.07,7.6> }
object { Stander(Green,Orange,Slate,SkinC,srgb<0.5,0.3,0.12>,1,Blue,<0.2,0.62,0.36>,Down[1],0) rotate y*-12 translate <-3.35,0.42,0.2> }
