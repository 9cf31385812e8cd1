#version 3.7;
// Three people on the garden bench: the scanned print.
#include "parts.inc"
global_settings { assumed_gamma 1 radiosity { count 60 error_bound .6 recursion_limit 2 } }
camera { location <-.5,1.5,-4.6> right x*image_width/image_height up y look_at <.05,1.02,0> angle 37 aperture .07 focal_point <0,1.2,-.25> blur_samples 14 }
light_source { <-9,10,-9> rgb <1.25,1.16,1.0> area_light x*1.5,y*1.5,3,3 adaptive 1 jitter }
Sky()
plane { y,0 texture { pigment { bozo turbulence .6 color_map { [0 rgb <.16,.26,.08>] [.5 rgb <.24,.34,.12>] [1 rgb <.30,.34,.15>] } scale .3 } normal { bumps 1 scale <.02,.2,.02> } finish { diffuse .85 } } }
object { House(9, 5, 4.6, <.80,.76,.68>, <.42,.3,.26>, 5) translate <1.2,0,7> }
object { Tree(4.6, 21, <.2,.36,.12>) translate <-3.3,0,3.6> }
object { Tree(3.2, 34, <.26,.36,.12>) translate <3.9,0,2.4> }
// rose bushes
#declare R = seed(77);
#declare I = 0; #while (I < 900)
  #declare A = rand(R); #declare P = <-3+6.2*rand(R), .05+.75*rand(R)*(.6+.4*sin(A*6)), 1.2+.6*rand(R)>;
  sphere { P, .035+.03*rand(R) pigment { rgb (rand(R) > .9 ? <.75,.2,.24>*(.7+.5*rand(R)) : <.15,.28,.09>*(.6+.8*rand(R))) } normal { bumps 1 scale .03 } finish { diffuse .8 } }
#declare I = I + 1; #end
// bench
union {
  #declare I = 0; #while (I < 5) box { <-1.25,.45,-.02-.11*I>, <1.25,.49,.07-.11*I> } #declare I = I + 1; #end
  #declare I = 0; #while (I < 4) box { <-1.25,.62+.14*I,.14+.02*I>, <1.25,.73+.14*I,.18+.02*I> } #declare I = I + 1; #end
  box { <-1.2,0,-.42>, <-1.12,.46,.1> } box { <1.12,0,-.42>, <1.2,.46,.1> } box { <-1.2,.46,.1>, <-1.12,1.16,.18> } box { <1.12,.46,.1>, <1.2,1.16,.18> }
  texture { pigment { wood color_map { [0 rgb <.42,.30,.19>] [1 rgb <.30,.20,.12>] } scale .05 rotate y*90 } finish { diffuse .8 specular .1 } } }
object { Person(1.72, <.46,.16,.2>, <.30,.28,.34>, <.34,.2,.1>, 1, 12, 1) translate <-.72,-.33,-.05> }
object { Person(1.80, <.18,.24,.34>, <.26,.24,.2>, <.12,.1,.09>, 0, -6, 1) translate <.08,-.36,-.05> }
object { Person(1.22, <.75,.62,.22>, <.2,.26,.4>, <.5,.36,.18>, 0, -20, 1) translate <.8,-.1,-.05> }
