// River Watch at the inflow: sampling in the shallows.
#declare Seed = 61;
#include "brindlemere.inc"
camera { location <-3.4,1.9,-5.2> right x*1.5 look_at <0.5,0.65,1.5> angle 48 }
Sun(<-0.7,0.7,-0.45>, <1.6,1.5,1.25>*1.1)
SkyFill(<0.32,0.38,0.42>*0.95)
Sky(<0.84,0.87,0.86>, <0.45,0.60,0.74>, <1,1,1>, 0.75)
Haze(<0.74,0.80,0.78>, 300)
Lake(<0.045,0.075,0.05>, 0.30)
object { Hills(46,180,46,7.7,<0.07,0.13,0.05>) }
height_field { function 300,300 { 0.15+0.10*f_noise3d(x*9,1,y*7) + 0.62*y } smooth translate <-0.5,-0.5,-0.5> scale <70,3,18> translate <6,0.40,14.6> texture { Grass } }
union { Pines(46,-24,34,18,25,0.6,<0.05,0.13,0.05>) }
union { Reeds(420,-9,12,5.2,7.2) } union { Reeds(160,2.6,6,-2.4,-0.6) }
Stones(90,-4,5,2.2,5,-0.04,0.30) Stones(40,-3,1,-3,-1,-0.07,0.22)
object { Stander(Green,Yellow,Slate,SkinC,srgb<0.30,0.18,0.1>,1,Cream,<0.34,0.26,0.16>,<0.34,0.20,-0.16>,0) rotate y*-25 translate <0.5,-0.32,1.0> }
union { cylinder { <0.9,0.95,0.75>,<1.75,-0.02,0.30>,0.018 pigment { rgb <0.75,0.6,0.35> } } torus { 0.20,0.014 rotate x*25 translate <1.83,0.0,0.22> pigment { rgb Slate } } cone { <1.83,0.0,0.22>,0.19,<1.88,-0.25,0.15>,0.05 open pigment { rgbt <0.9,0.9,0.85,0.35> } } finish { Matte } }
object { Stander(Orange,Blue,Teal*0.5,SkinA,srgb<0.75,0.62,0.35>,0,Cream,<0.24,0.44,0.10>,<0.24,0.42,-0.10>,0) scale 0.92 rotate y*190 translate <2.6,-0.30,2.2> }
cylinder { <-0.9,-0.1,-0.6>,<-0.9,0.26,-0.6>,0.16 pigment { rgb Red } finish { Gloss } } torus { 0.16,0.012 translate <-0.9,0.26,-0.6> pigment { rgb Slate } } sphere { 0,0.5 scale <1,0.3,0.8> translate <-0.9,-0.16,-0.6> pigment { granite color_map { [0 rgb 0.25] [1 rgb 0.4] } } finish { Matte } }
