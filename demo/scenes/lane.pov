#version 3.7;
// The lane behind the houses, for the film: background plate.
#include "parts.inc"
global_settings { assumed_gamma 1 radiosity { count 30 error_bound .9 recursion_limit 1 } }
camera { location <0,1.55,-7> right x*image_width/image_height up y look_at <.4,1.5,2> angle 58 }
light_source { <-30,34,-16> rgb <1.35,1.25,1.1> area_light x*3,y*3,3,3 adaptive 1 jitter }
Sky()
plane { y,0 texture { pigment { bozo turbulence .5 color_map { [0 rgb <.42,.38,.31>] [1 rgb <.54,.49,.41>] } scale .5 } normal { granite .5 scale .25 } finish { diffuse .85 } } }
box { <-14,0,2.6>, <-2.6,1.1,3.0> texture { pigment { brick color rgb <.4,.38,.34> color rgb <.58,.54,.48> brick_size <.5,.18,.4> mortar .02 } normal { granite .5 scale .15 } finish { diffuse .8 } } }
#declare I = 0; #while (I < 40) box { <2+I*.19,0,3>, <2.11+I*.19,1.15,3.05> pigment { rgb .86 } finish { diffuse .8 } } #declare I = I + 1; #end
box { <2,.35,3.05>, <10,.43,3.1> pigment { rgb .8 } } box { <2,.85,3.05>, <10,.93,3.1> pigment { rgb .8 } }
object { House(7, 5, 4.4, <.78,.74,.68>, <.4,.3,.27>, 8) translate <-6,0,9> }
object { House(6, 5, 3.8, <.86,.83,.76>, <.46,.32,.27>, 19) translate <5.5,0,10> }
object { Tree(5.4, 5, <.24,.38,.15>) translate <-.4,0,6.5> }
object { Tree(4.2, 15, <.24,.34,.13>) translate <9.6,0,5> }
object { Tree(4.8, 25, <.2,.34,.13>) translate <-10.5,0,5.2> }
object { Person(1.62, <.6,.58,.55>, <.3,.3,.34>, <.25,.17,.1>, 1, 25, 0) rotate y*-15 translate <-2.3,0,1.2> }
