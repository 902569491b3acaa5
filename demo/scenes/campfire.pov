// Socials: the fire on the shore after sunset.
#declare Seed = 77;
#include "brindlemere.inc"
camera { location <0,1.75,-6.4> right x*1.5 look_at <0,0.95,2> angle 46 }
light_source { <0,0.75,0.2> rgb <2.9,1.25,0.38>*1.25 fade_distance 2.6 fade_power 2 area_light x*0.3,z*0.3,3,3 jitter adaptive 1 }
light_source { <200,400,900> rgb <0.16,0.20,0.36>*1.1 }
SkyFill(<0.06,0.07,0.14>*1.4)
Sky(<0.62,0.34,0.26>, <0.05,0.08,0.20>, <0.45,0.22,0.24>, 0.55)
Haze(<0.20,0.16,0.22>, 240)
Lake(<0.01,0.02,0.04>, 0.12)
object { Hills(100,300,85,2.2,<0.03,0.04,0.045>) }
union { Pines(40,-50,-12,34,50,-0.2,<0.015,0.025,0.025>) Pines(14,16,50,36,50,-0.2,<0.015,0.025,0.025>) }
box { <-40,-1,-20>,<40,0.03,3.4> texture { Shingle } }
Stones(70,-9,9,2.6,3.6,0.05,0.18)
#local K = 0; #while (K < 14) sphere { 0,0.13 scale <1,0.7,0.8> translate <0.52,0.06,0> rotate y*K*25.7 translate z*0.2 pigment { rgb 0.3 } finish { Matte } } #local K=K+1; #end
#local K = 0; #while (K < 7) cylinder { <0.42,0.06,0>,<0.02,0.42,0>,0.055 rotate y*K*51 translate z*0.2 texture { Wood(Larch) } } #local K=K+1; #end
#local K = 0; #while (K < 16) cone { 0,0.11,<(rand(R)-0.5)*0.12,0.42+rand(R)*0.55,(rand(R)-0.5)*0.1>,0.004 translate <(rand(R)-0.5)*0.36,0.10,(rand(R)-0.5)*0.3+0.2> pigment { rgbt <1,0.62,0.12,0.55> } finish { ambient 0 emission 1.5 diffuse 0 } no_shadow } #local K=K+1; #end
#macro Log(X,Z,A) cylinder { <-0.75,0.2,0>,<0.75,0.2,0>,0.19 texture { Wood(Larch) rotate y*90 } rotate y*A translate <X,0,Z> } #end
Log(-1.9,0.6,62) Log(1.9,0.6,-62) Log(-0.9,2.2,10) Log(1.0,2.2,-10)
#macro Sitter(J,V,S,H,T,HC,X,Z,A) union { object { Torso(J,V,S,<0.34,0.24,0.14>,<0.34,0.24,-0.14>) } object { Head(S,H,T,HC) translate y*0.80 }
  object { Limb(<0,0.02,0.1>,<0.42,0.06,0.12>,<0.46,-0.36,0.12>,0.085) pigment { rgb Slate } } object { Limb(<0,0.02,-0.1>,<0.42,0.06,-0.12>,<0.46,-0.36,-0.12>,0.085) pigment { rgb Slate } }
  cylinder { <0.36,0.20,0>,<0.36,0.31,0>,0.045 pigment { rgb Cream } finish { Gloss } } translate y*0.42 rotate y*A translate <X,0,Z> } #end
object { Sitter(Red,Yellow,SkinA,srgb<0.4,0.2,0.1>,2,Blue,-1.95,0.75,10) } object { Sitter(Teal,Orange,SkinB,srgb<0.06,0.05,0.05>,0,Cream,1.95,0.75,170) }
object { Sitter(Plum,Green,SkinC,srgb<0.25,0.14,0.1>,2,Orange,-0.85,2.25,68) } object { Sitter(Blue,Red,SkinA,srgb<0.7,0.55,0.3>,1,Yellow,1.0,2.25,112) }
object { Kayak(Orange,Orange) rotate z*6 rotate y*35 translate <3.6,0.30,2.2> } object { Kayak(Teal,Teal) rotate y*150 translate <-3.9,0.28,2.4> }
