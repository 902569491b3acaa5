// The notice board by the slipway, with a number to ring (one that rings nobody).
#declare Seed = 12;
#include "brindlemere.inc"
camera { location <0.5,1.62,-2.75> right x*1.5 look_at <0.02,1.42,0> angle 46 }
Sun(<-0.5,0.75,-0.8>, <1.55,1.45,1.3>)
SkyFill(<0.34,0.38,0.44>*0.8)
Sky(<0.80,0.84,0.86>, <0.30,0.50,0.76>, <1,1,1>, 0.6)
Haze(<0.72,0.78,0.82>, 380)
Lake(<0.02,0.08,0.085>, 0.15)
object { Hills(90,300,70,9.2,<0.075,0.13,0.06>) }
union { Pines(24,-30,30,26,36,-0.2,<0.05,0.12,0.05>) }
box { <-30,-0.6,-20>,<30,0.02,3.2> texture { Grass } }
#declare Board = union {
  box { <-1.12,0.72,0.03>,<1.12,2.12,0.09> texture { Wood(Larch*1.7) rotate y*90 } }
  box { <-1.02,0.80,0.0>,<1.02,2.00,0.05> pigment { granite scale 0.2 color_map { [0 srgb <0.70,0.53,0.36>] [1 srgb <0.60,0.43,0.27>] } } normal { granite 0.3 scale 0.05 } finish { Matte } }
  cylinder { <-1.1,-0.5,0.1>,<-1.1,2.35,0.1>,0.07 texture { Wood(Larch) rotate x*90 } } cylinder { <1.1,-0.5,0.1>,<1.1,2.35,0.1>,0.07 texture { Wood(Larch) rotate x*90 } }
  prism { -0.12,0.12,5, <-1.4,0>,<0,0.32>,<1.4,0>,<1.3,-0.06>,<-1.3,-0.06> rotate x*-90 scale <1,1,1> translate <0,2.25,0.1> texture { Wood(Larch*1.3) rotate y*90 } }
  object { Sign("BRINDLEMERE PADDLE CLUB",0.0903,Cream) translate <0,2.035,0.015> } }
#macro Paper(W,H,C) box { <-W/2,-H/2,-0.004>,<W/2,H/2,0.004> pigment { rgb C } normal { bumps 0.05 scale 0.2 } finish { Matte } } #end
#macro Pin(C) sphere { 0,0.018 pigment { rgb C } finish { Gloss } } #end
object { Board }
union { object { Paper(0.86,0.60,<0.95,0.94,0.88>) } object { Sign("KEYS TO THE SHED",0.0496,Slate*0.5) translate <0,0.19,-0.02> } object { Sign("ring Marta",0.0416,Slate*0.5) translate <0,0.07,-0.02> } object { Sign("01632 960417",0.0704,srgb<0.45,0.08,0.06>) translate <0,-0.07,-0.02> } object { Sign("after six, please",0.0360,Slate*0.5) translate <0,-0.20,-0.02> } object { Pin(Red) translate <0,0.265,-0.02> } rotate z*1.5 translate <-0.44,1.60,-0.015> }
union { object { Paper(0.62,0.44,<0.98,0.85,0.35>) } object { Sign("JUNIORS",0.0544,Slate*0.4) translate <0,0.09,-0.02> } object { Sign("Saturdays 10 to 12",0.0352,Slate*0.4) translate <0,-0.01,-0.02> } object { Sign("bring a dry jumper",0.0320,Slate*0.4) translate <0,-0.11,-0.02> } object { Pin(Blue) translate <0,0.19,-0.02> } rotate z*-2.5 translate <0.50,1.70,-0.015> }
union { object { Paper(0.50,0.36,<0.80,0.90,0.93>) } object { Sign("SOUP NIGHT",0.0464,Slate*0.4) translate <0,0.05,-0.02> } object { Sign("first frost",0.0352,Slate*0.4) translate <0,-0.05,-0.02> } object { Pin(Green) translate <0,0.15,-0.02> } rotate z*1 translate <0.22,1.16,-0.015> }
union { object { Paper(0.42,0.30,<0.90,0.80,0.86>) } object { Sign("LOST: one shoe",0.0320,Slate*0.4) translate <0,0.01,-0.02> } object { Pin(Orange) translate <0,0.12,-0.02> } rotate z*-1 translate <-0.55,1.04,-0.015> }
union { object { Paper(0.26,0.34,<0.95,0.94,0.88>) } object { Pin(Red) translate <0,0.14,-0.02> } object { Sign("TIDY",0.0400,Plum) translate <0,0.02,-0.02> } object { Sign("SHED",0.0400,Plum) translate <0,-0.06,-0.02> } rotate z*2.5 translate <0.78,1.14,-0.015> }
union { Reeds(90,-7,-2.2,3.2,4.5) }
