// Life vests on their hooks, drying.
#declare Seed = 19;
#include "brindlemere.inc"
camera { location <0.3,1.5,-4.2> right x*1.5 look_at <0,1.38,0> angle 42 }
light_source { <-40,60,-90> rgb <1.45,1.32,1.12> area_light x*18,y*18,4,4 adaptive 1 jitter circular orient }
SkyFill(<0.30,0.32,0.36>*0.7)
object { BoardWall(8,4,0.22,Larch*1.35) translate <-4,0,0> }
box { <-2.2,1.98,-0.07>,<2.2,2.10,0.0> texture { Wood(Larch*0.9) rotate y*90 } }
#declare Cols = array[6] { Orange, Yellow, Red, Teal, Yellow, Blue };
#local K = 0; #while (K < 6)
  union { cylinder { <0,2.03,-0.05>,<0,2.03,-0.2>,0.022 pigment { rgb Slate } }
    union { difference { union { superellipsoid { <0.5,0.35> scale <0.25,0.34,0.10> translate <0,1.50,0> } superellipsoid { <0.5,0.4> scale <0.09,0.18,0.07> translate <-0.14,1.84,0> } superellipsoid { <0.5,0.4> scale <0.09,0.18,0.07> translate <0.14,1.84,0> } }
        sphere { <0,1.97,0>,0.20 } box { <-0.008,1,-0.3>,<0.008,1.9,-0.05> } pigment { rgb Cols[K] } normal { bumps 0.5 scale <0.14,0.05,0.14> } }
      #local B = 0; #while (B < 3) box { <-0.27,1.30+B*0.14,-0.115>,<0.27,1.33+B*0.14,0.115> pigment { rgb Slate } } box { <-0.05,1.285+B*0.14,-0.135>,<0.05,1.345+B*0.14,-0.10> pigment { rgb Slate*0.5 } } #local B = B+1; #end
      rotate z*(rand(R)*6-3) } finish { Matte } translate <-1.78+K*0.71,0,-0.14> }
#local K = K+1; #end
