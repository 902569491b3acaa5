// A junior's first launch, close by.
#declare Seed = 42;
#include "brindlemere.inc"
camera { location <1.9,1.15,-3.9> right x*1.5 look_at <0.20,0.62,0> angle 44 }
Sun(<0.35,0.66,-0.75>, <1.7,1.55,1.3>*1.1)
SkyFill(<0.30,0.36,0.44>*0.85)
Sky(<0.80,0.84,0.86>, <0.22,0.44,0.74>, <1,1,1>, 0.66)
Haze(<0.70,0.77,0.82>, 380)
Lake(<0.015,0.075,0.09>, 0.22)
object { Hills(90,300,70,13.2,<0.075,0.13,0.06>) }
union { Pines(44,-50,50,44,60,-0.2,<0.05,0.12,0.05>) }
object { Paddler(Orange,Yellow,Blue,Red,SkinB,srgb<0.07,0.05,0.05>,2,Yellow,-22,42) rotate y*18 translate <0,-0.07,0> }
object { Paddler(Green,Green*1.2,Red,Yellow,SkinA,srgb<0.5,0.3,0.12>,1,Cream,18,0) rotate y*170 translate <-3.2,-0.07,7> }
union { Reeds(120,-5,-2.4,1.2,4) }
