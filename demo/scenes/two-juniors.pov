// Two juniors on the jetty, close: faces that a section may have to hide.
#declare Seed = 33;
#include "brindlemere.inc"
camera { location <0.05,1.35,-2.35> right x*0.8 look_at <0.0,1.08,0> angle 33 focal_point <0,1.2,-0.1> aperture 0.05 blur_samples 12 }
Sun(<-0.6,0.7,-0.75>, <1.65,1.5,1.3>)
SkyFill(<0.32,0.36,0.42>*0.85)
Sky(<0.82,0.84,0.84>, <0.30,0.50,0.76>, <1,1,1>, 0.6)
Haze(<0.72,0.78,0.82>, 300)
Lake(<0.02,0.08,0.085>, 0.17)
object { Hills(70,260,60,4.2,<0.075,0.13,0.06>) }
union { Pines(26,-24,24,26,38,-0.2,<0.05,0.12,0.05>) }
object { Jetty(2.4,9,0.0) translate <0,0,-6> }
object { Stander(Yellow,Red,Blue,SkinA,srgb<0.42,0.22,0.08>,0,Cream,<0.16,0.62,0.30>,<0.10,0.05,-0.27>,6) scale 0.80 rotate y*80 translate <-0.27,0,0> }
object { Stander(Blue,Orange,Slate,SkinB,srgb<0.07,0.05,0.05>,2,Teal,<0.10,0.05,0.27>,<0.22,0.44,-0.30>,-8) scale 0.76 rotate y*98 translate <0.27,0,0.02> }
object { Paddler(Red,Red,Green,Yellow,SkinC,srgb<0.2,0.12,0.08>,1,Cream,22,0) rotate y*15 translate <2.2,-0.5,9> }
