// The club van at the landing, its plate in view.
#declare Seed = 5;
#include "brindlemere.inc"
camera { location <-4.9,2.0,-5.8> right x*4/3 look_at <0.45,1.25,0.2> angle 47 }
Sun(<-0.55,0.75,-0.65>, <1.7,1.58,1.4>*1.1)
SkyFill(<0.30,0.36,0.45>*0.8)
Sky(<0.78,0.84,0.88>, <0.25,0.47,0.76>, <1,1,1>, 0.66)
Haze(<0.70,0.77,0.82>, 460)
Lake(<0.02,0.08,0.085>, 0.18)
object { Hills(110,320,80,6.2,<0.075,0.13,0.06>) }
object { Hills(60,150,24,2.9,<0.06,0.12,0.045>) translate x*-40 }
union { Pines(50,6,60,24,46,-0.2,<0.05,0.12,0.05>) }
height_field { function 300,300 { 0.5+0.05*f_noise3d(x*24,1,y*24) } smooth translate <-0.5,-0.5,-0.5> scale <60,2.2,26> translate <0,0.20,-8.4> texture { Shingle } }
Stones(420,-24,26,4.0,5.2,0.08,0.26)
#declare Van = union {
  superellipsoid { <0.16,0.2> scale <2.2,0.86,0.92> translate <0.1,1.22,0> pigment { rgb Teal*1.15 } finish { Gloss } }
  difference { superellipsoid { <0.2,0.2> scale <1.0,0.52,0.90> translate <-1.75,0.86,0> } plane { x,-3 } pigment { rgb Teal*1.15 } finish { Gloss } }
  box { <-2.25,0.92,-0.925>, <2.28,1.06,0.925> pigment { rgb Cream } finish { Gloss } }
  superellipsoid { <0.12,0.12> scale <0.45,0.30,0.80> rotate z*-20 translate <-1.88,1.62,0> pigment { srgb <0.10,0.14,0.17> } finish { Gloss } }
  superellipsoid { <0.1,0.1> scale <0.40,0.27,0.02> translate <-1.20,1.60,-0.91> pigment { srgb <0.10,0.14,0.17> } finish { Gloss } }
  superellipsoid { <0.1,0.1> scale <0.50,0.27,0.02> translate <-0.1,1.60,-0.915> pigment { srgb <0.10,0.14,0.17> } finish { Gloss } }
  superellipsoid { <0.1,0.1> scale <0.50,0.27,0.02> translate <1.1,1.60,-0.915> pigment { srgb <0.10,0.14,0.17> } finish { Gloss } }
  #local S = -1; #while (S < 2)
    cylinder { <-1.65,0.42,S*0.95>,<-1.65,0.42,S*0.70>,0.42 pigment { rgb Slate*0.35 } finish { Matte } }
    cylinder { <1.35,0.42,S*0.95>,<1.35,0.42,S*0.70>,0.42 pigment { rgb Slate*0.35 } finish { Matte } }
    cylinder { <-1.65,0.42,S*0.97>,<-1.65,0.42,S*0.70>,0.22 pigment { rgb Cream*0.8 } finish { Gloss } }
    cylinder { <1.35,0.42,S*0.97>,<1.35,0.42,S*0.70>,0.22 pigment { rgb Cream*0.8 } finish { Gloss } }
    sphere { 0,1 scale <0.06,0.13,0.15> translate <-2.68,0.98,S*0.60> pigment { rgb Cream } finish { Gloss } }
  #local S = S+2; #end
  box { <-2.78,0.42,-0.88>,<-2.55,0.60,0.88> pigment { rgb Slate*0.6 } finish { Matte } }
  union { superellipsoid { <0.05,0.05> scale <0.34,0.085,0.012> pigment { rgb <0.95,0.93,0.82> } finish { Matte } }
    object { Sign("BM24 PDL",0.085,srgb 0.06) translate <0,-0.045,-0.025> } rotate y*90 translate <-2.80,0.62,0> }
  object { Sign("BRINDLEMERE",0.17,Cream) translate <-0.1,1.165,-0.955> }
  object { Sign("PADDLE CLUB",0.085,Slate) translate <0.35,0.955,-0.945> }
  cylinder { <-1.0,2.2,-0.85>,<-1.0,2.2,0.85>,0.03 pigment { rgb Slate } } cylinder { <1.3,2.2,-0.85>,<1.3,2.2,0.85>,0.03 pigment { rgb Slate } }
  cylinder { <-1.0,2.0,-0.7>,<-1.0,2.2,-0.7>,0.03 } cylinder { <1.3,2.0,-0.7>,<1.3,2.2,-0.7>,0.03 } cylinder { <-1.0,2.0,0.7>,<-1.0,2.2,0.7>,0.03 } cylinder { <1.3,2.0,0.7>,<1.3,2.2,0.7>,0.03 }
  object { Kayak(Red,Red) rotate x*180 translate <0.2,2.42,-0.42> } object { Kayak(Yellow,Yellow) rotate x*180 translate <0.3,2.42,0.42> } }
object { Van rotate y*-14 translate <0.5,0.27,0.4> }
object { Stander(Plum,Yellow,Slate,SkinB,srgb<0.08,0.06,0.05>,0,Cream,<0.24,0.30,0.22>,<0.24,0.30,-0.22>,20) rotate y*150 translate <3.6,0.27,-0.5> }
