// The boatshed: eight boats on racks.
#declare Seed = 93;
#include "brindlemere.inc"
camera { location <-2.3,1.75,-5.4> right x*1.5 look_at <0.15,1.25,0> angle 57 }
light_source { <-6,7,-9>*12 rgb <1.5,1.38,1.2>*1.05 area_light x*14, y*14, 4,4 adaptive 1 jitter circular orient }
light_source { <8,3,-6> rgb <0.25,0.28,0.34> shadowless }
light_source { <-4,1,-8> rgb <0.22,0.21,0.20> shadowless }
object { BoardWall(9,4,0.24,Larch*1.3) translate <-4.4,0,1.15> }
object { BoardWall(7,4,0.24,Larch*1.1) rotate y*90 translate <3.6,0,1.2> }
plane { y,0 pigment { granite scale 3 color_map { [0 srgb <0.60,0.58,0.54>] [1 srgb <0.47,0.45,0.43>] } } normal { granite 0.15 scale 0.3 } finish { diffuse 0.8 ambient 0 reflection 0.03 } }
#macro Rack(X)
  union {
    box { <-0.06,0,0.85>, <0.06,3.05,0.97> }
    box { <-0.06,0,-0.35>, <0.06,0.12,0.97> }
    #local L = 0; #while (L < 4)
      box { <-0.05,0.42+L*0.72,-0.30>, <0.05,0.52+L*0.72,0.97> }
      box { <-0.05,0.42+L*0.72,-0.36>, <0.05,0.66+L*0.72,-0.28> }
    #local L = L+1; #end
    texture { Wood(Larch*1.6) rotate x*90 } translate x*X }
#end
object { Rack(-1.7) } object { Rack(1.7) }
#declare Boats = array[8] { Red, Yellow, Teal, Orange, Blue, Green, Cream, Plum };
#local L = 0; #while (L < 4)
  object { Kayak(Boats[L*2], Boats[L*2]*1.1) scale <1,1,0.9> rotate x*0 rotate y*(1-L) translate <0.05*L,0.80+L*0.72,0.06> }
  object { Kayak(Boats[L*2+1], Boats[L*2+1]*1.05) scale <0.94,1,0.85> rotate y*(L-2) translate <0.1-0.1*L,0.80+L*0.72,0.62> }
#local L = L+1; #end
#local L = 0; #while (L < 4)
  object { Paddle(Boats[mod(L*3,8)]) rotate z*(3-L*2) rotate y*60 translate <2.55+L*0.24,1.42,0.93> }
#local L = L+1; #end
cylinder { <-2.75,0,0.3>,<-2.75,0.62,0.3>,0.26 open pigment { rgb Teal } finish { Matte } }
#local L = 0; #while (L < 5) cylinder { <-2.75+rand(R)*0.25-0.12,0.1,0.3+rand(R)*0.2-0.1>,<-2.75+rand(R)*0.5-0.25,1.35,0.3+rand(R)*0.3-0.1>,0.018 pigment { rgb Slate } } #local L=L+1; #end
box { <2.2,0,-0.6>,<3.2,0.42,0.1> texture { Wood(Larch*1.8) } }
sphere { <2.5,0.55,-0.3>,0.15 pigment { rgb Orange } finish { Matte } } torus { 0.2,0.06 translate <2.9,0.48,-0.25> pigment { rgb Red } finish { Matte } }
