// Touring: a long line of boats across the whole lake.
#declare Seed = 8;
#include "brindlemere.inc"
camera { location <0,3.4,-11> right x*3.25 look_at <0,1.9,20> angle 82 }
Sun(<0.75,0.48,-0.35>, <1.75,1.5,1.15>*1.1)
SkyFill(<0.28,0.36,0.48>*0.8)
Sky(<0.86,0.84,0.78>, <0.22,0.44,0.74>, <1,0.98,0.95>, 0.72)
Haze(<0.74,0.78,0.80>, 480)
Lake(<0.015,0.07,0.09>, 0.24)
object { Hills(130,380,110,11.3,<0.075,0.13,0.06>) }
object { Hills(80,180,30,4.9,<0.06,0.12,0.045>) translate x*60 }
union { Pines(70,-110,-30,52,76,-0.3,<0.045,0.12,0.05>) Pines(50,50,120,56,84,-0.3,<0.045,0.12,0.05>) }
#declare Boats = array[7] { Red, Yellow, Teal, Orange, Blue, Green, Plum };
#local K = 0; #while (K < 7)
  object { Paddler(Boats[K],Boats[K]*1.1,Boats[mod(K+3,7)],Boats[mod(K+1,7)],(mod(K,3)=0 ? SkinA : (mod(K,3)=1 ? SkinB : SkinC)),srgb<0.2,0.12,0.08>,mod(K,3),Boats[mod(K+5,7)],(mod(K,2)*2-1)*(14+K*2),8) rotate y*(6-K*2) translate <-12+K*4.0,-0.07,4.5+3.4*sin(K*1.1)+K*0.5> }
#local K = K+1; #end
