// Paddles against the shed wall, upright.
#declare Seed = 14;
#include "brindlemere.inc"
camera { location <-0.9,1.5,-4.6> right x*2/3 look_at <-0.05,1.28,0> angle 30 }
Sun(<-0.72,0.70,-0.55>, <1.75,1.55,1.25>)
SkyFill(<0.30,0.34,0.42>*0.7)
object { BoardWall(6,4,0.19,<0.16,0.20,0.20>) translate <-3,0,0> }
box { <-10,-1,-10>,<10,0,0.1> texture { Shingle } }
#declare Blades = array[5] { Red, Yellow, Teal, Orange, Cream };
#local K = 0; #while (K < 5) object { Paddle(Blades[K]) rotate y*(90+rand(R)*16) rotate z*(5-K*2.6) rotate x*7 translate <-0.62+K*0.31,1.40,-0.20> } #local K = K+1; #end
torus { 0.30,0.075 rotate x*83 translate <0.42,0.34,-0.22> pigment { radial frequency 4 color_map { [0.5 rgb Orange] [0.5 rgb Cream] } rotate x*83 translate <0.42,0.34,-0.22> } finish { Matte } }
union { cylinder { <0,0.02,0>,<0,0.30,0>,0.17 } torus { 0.17,0.012 translate y*0.30 } pigment { rgb Teal } finish { Gloss } translate <-0.62,0,-0.55> }
