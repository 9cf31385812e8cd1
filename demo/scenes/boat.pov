#version 3.7;
// The lugger that crosses the picture, on nothing; rendered with an alpha channel.
#include "parts.inc"
global_settings { assumed_gamma 1 }
camera { orthographic location <0,1.9,-12> right x*7 up y*7 look_at <0,1.9,0> }
light_source { <-60,70,-50> rgb <1.35,1.25,1.08> area_light x*6,y*6,3,3 adaptive 1 jitter }
light_source { <30,20,-60> rgb <.25,.28,.34> shadowless }
object { SailBoat(<.55,.14,.1>, <.86,.78,.6>) }
