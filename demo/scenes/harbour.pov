#version 3.7;
// The quay on the day of the fête: background plate.
#include "parts.inc"
global_settings { assumed_gamma 1 radiosity { count 30 error_bound .9 recursion_limit 1 } max_trace_level 6 }
camera { location <0,3.4,-17> right x*image_width/image_height up y look_at <0,3.0,0> angle 62 }
light_source { <-60,70,-50> rgb <1.35,1.25,1.08> area_light x*6,y*6,3,3 adaptive 1 jitter }
Sky()
Sea(0)
// hills
isosurface { function { y - 9*f_noise3d(x*.035,1,z*.05) - 1.2*f_noise3d(x*.3,3,z*.3) + 1.5 } contained_by { box { <-90,-2,38>, <90,14,95> } } max_gradient 2.4
  pigment { bozo turbulence .4 color_map { [0 rgb <.13,.22,.10>] [.5 rgb <.22,.30,.13>] [.8 rgb <.33,.34,.17>] [1 rgb <.18,.25,.12>] } scale <3,2,3> } finish { diffuse .8 } }
// quay wall
box { <-60,-1,9>, <60,1.25,40> texture { pigment { brick color rgb <.36,.34,.31> color rgb <.52,.49,.44> brick_size <1.1,.42,.6> mortar .04 } normal { granite .4 scale .3 } finish { diffuse .8 } } }
#declare R = seed(12);
#declare X = -34;
#while (X < 36)
  #declare W = 4.2 + 3*rand(R);
  #declare Wall = <.62+.3*rand(R), .58+.3*rand(R), .5+.3*rand(R)>;
  object { House(W, 5, 3.6+2.6*rand(R), Wall, <.44,.27,.22>*(.7+.7*rand(R)), 100*rand(R)) translate <X+W/2,1.25,16+1.5*rand(R)> }
  #declare X = X + W + .3 + 1.6*rand(R);
#end
#declare I = 0; #while (I < 9)
  object { Tree(4.5+2*rand(R), I*7+3, <.22,.38,.14>) translate <-40+80*rand(R),1.25,22+6*rand(R)> }
#declare I = I + 1; #end
// people along the quay
#declare I = 0; #while (I < 26)
  object { Person(1.45+.4*rand(R), <rand(R),rand(R)*.8,rand(R)*.8>, <.2+.3*rand(R),.2+.2*rand(R),.25+.2*rand(R)>, <.3*rand(R)+.08,.2*rand(R)+.05,.1*rand(R)+.03>, floor(2.99*rand(R)), 80*(rand(R)-.5), 0) rotate y*(50*(rand(R)-.5)) translate <-19+38*rand(R),1.25,9.6+2.2*rand(R)> }
#declare I = I + 1; #end
// bunting
#declare I = 0; #while (I < 70)
  triangle { <-28+I*.8,5.2-.5*sin(pi*mod(I,12)/12),11>, <-27.55+I*.8,5.2-.5*sin(pi*mod(I+.5,12)/12),11>, <-27.77+I*.8,4.6-.5*sin(pi*mod(I,12)/12),11>
    pigment { rgb (mod(I,3)=0 ? <.8,.15,.12> : (mod(I,3)=1 ? <.9,.85,.6> : <.12,.25,.6>)) } finish { diffuse .8 ambient .05 } }
#declare I = I + 1; #end
#declare I = 0; #while (I < 6) cylinder { <-28+I*9.6,1.2,11>, <-28+I*9.6,5.4,11>, .06 pigment { rgb <.8,.78,.72> } } #declare I = I + 1; #end
// moored rowing boats
#declare I = 0; #while (I < 5)
  difference { sphere { 0,1 scale <1.5,.55,.6> } sphere { 0,1 scale <1.43,.5,.54> translate y*.06 } box { <-4,.1,-4>, <4,3,4> }
    pigment { rgb <.3+.5*rand(R),.25+.3*rand(R),.2+.4*rand(R)> } normal { gradient y .4 scale .1 } finish { diffuse .8 specular .2 } rotate y*40*(rand(R)-.5) translate <-17+8*I+2*rand(R),.12,5.5+2*rand(R)> }
#declare I = I + 1; #end
