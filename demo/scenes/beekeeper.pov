// LH-010 "Veil at the hive": a beekeeper lifts a smoker to the hive. clock runs 0…1 over the shot.
#include "stage.inc"
Cam(<0, 134, -372>, <-4, 127, 0>, 34, W, H)

object { Screen(250, 330, 420, 0) }
ScreenLights(250, 210, 300, 0.42)

// Subject lights: warm key from the left, cooler soft fill, rim from behind right.
SoftLight(<-210, 265, -190>, rgb 1.05*<1, 0.93, 0.82>, 90, 3)
SoftLight(<230, 190, -230>, rgb 0.2*<0.86, 0.93, 1>, 140, 2)
#if (Mode != 2) light_source { <170, 300, 170>, rgb 0.9*<1, 0.96, 0.9>
  spotlight point_at <5, 125, 0> radius 18 falloff 30 area_light <40,0,0>, <0,30,20>, 2, 2 adaptive 0 jitter } #end

#if (Mode != 4)
// The hive: two pine boxes and a roof, front left.
union {
  box { <-24, 0, -20>, <24, 27, 20> }
  box { <-24, 28, -20>, <24, 55, 20> }
  box { <-27, 56, -23>, <27, 61, 23> }
  box { <-8, 3, -21>, <8, 5.5, -19> pigment { rgb 0.02 } }
  texture { Pine }
  rotate y*16 translate <-74, 22, -10>
}

#include "keeper.inc"
#end
