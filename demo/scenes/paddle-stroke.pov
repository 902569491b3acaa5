// One paddle stroke, drawn as frames: clock runs from 0 to 1.
#declare Seed = 50;
#include "brindlemere.inc"
camera { location <0.2,1.15,-3.4> right x*500/320 look_at <0.1,0.55,0> angle 56 }
light_source { <-500,700,-500> rgb <1.6,1.5,1.3> }
SkyFill(<0.34,0.38,0.44>*0.85)
sky_sphere { pigment { gradient y color_map { [0 rgb <0.80,0.86,0.88>] [0.4 rgb <0.35,0.56,0.80>] } } }
plane { y,0 pigment { rgb <0.02,0.11,0.13> } normal { bumps 0.22 scale <1.6,1,0.5> translate x*-clock*3.2 } finish { diffuse 0.5 reflection { 0.03,0.7 fresnel on } conserve_energy } interior { ior 1.33 } }
object { Hills(40,200,52,3.1,<0.12,0.22,0.09>) translate y*-9 }
#declare T = clock*2*pi;
union {
  object { Kayak(Red,Red) }
  #declare C = <0.30+0.05*sin(T),0.52,0>;
  #declare Dir = vrotate(vrotate(z, x*(32*sin(T))), y*(26*cos(T)));
  object { Torso(Blue,Yellow,SkinA,C+Dir*0.36,C-Dir*0.36) rotate y*(7*cos(T)) translate <-0.18,0.12,0> }
  object { Head(SkinA,srgb<0.4,0.2,0.1>,2,Orange) rotate y*(18) translate <-0.17,0.93,0> }
  object { Paddle(Orange) rotate x*90 rotate x*(32*sin(T)) rotate y*(26*cos(T)) translate C+<-0.17,0.12,0> }
  rotate x*(2.5*sin(T)) translate y*(-0.07+0.012*cos(2*T)) }
