#version 3.7;
// The child that runs down the lane, on nothing; rendered with an alpha channel.
#include "parts.inc"
global_settings { assumed_gamma 1 }
camera { orthographic location <0,.62,-6> right x*1.5 up y*1.5 look_at <0,.62,0> }
light_source { <-30,34,-16> rgb <1.35,1.25,1.1> area_light x*3,y*3,3,3 adaptive 1 jitter }
light_source { <10,10,-30> rgb <.28,.28,.32> shadowless }
object { Person(1.18, <.7,.68,.62>, <.25,.28,.36>, <.36,.26,.14>, 0, -40, 0) rotate y*-50 }
