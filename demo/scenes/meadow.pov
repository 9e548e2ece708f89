// Background: the meadow at Linden Hill in the afternoon, hives under a linden tree. The render script softens it like a long lens.
#version 3.7;
#include "functions.inc"
#ifndef (Jx) #declare Jx = 0; #end
#ifndef (Jy) #declare Jy = 0; #end
#ifndef (RadCount) #declare RadCount = 20; #end
global_settings { assumed_gamma 1.0
  radiosity { pretrace_start 0.08 pretrace_end 0.04 count RadCount error_bound 0.6 recursion_limit 1 nearest_count 8 } }
camera { perspective location <0, 158, -700> direction z*1.7 + x*Jx/H + y*Jy/H right x*W/H up y rotate x*-1.1 }
sky_sphere { pigment { gradient y color_map {
  [0.0 rgb <0.86, 0.78, 0.64>*0.95] [0.12 rgb <0.62, 0.70, 0.78>*0.85] [0.5 rgb <0.26, 0.42, 0.66>*0.75] } } }
light_source { <-4000, 3200, -1800>, rgb <1.5, 1.32, 1.02> area_light <300,0,0>, <0,300,0>, 2, 2 adaptive 0 jitter }
#macro Grass(A, B, S) texture { pigment { granite turbulence 0.6 color_map { [0 rgb A] [0.5 rgb (A+B)/2] [1 rgb B] } scale S } finish { ambient 0 diffuse 0.8 } normal { granite 0.7 scale S/4 } } #end
plane { y, 0 Grass(<0.13,0.17,0.035>, <0.34,0.32,0.09>, <190, 60, 420>) }
#declare Hill = sphere { 0, 1 scale <4200, 420, 1500> }
object { Hill translate <-2600, -60, 4300> Grass(<0.16,0.21,0.07>, <0.33,0.33,0.13>, 500) }
object { Hill scale <1.3,1.35,1> translate <2800, -80, 5600> Grass(<0.19,0.25,0.13>, <0.32,0.34,0.19>, 600) }
// Linden tree: trunk and a crown of many leaf clusters.
#declare Rn = seed(17);
#macro Tree(P, S)
  cone { P, 26*S, P + y*300*S, 15*S pigment { rgb <0.16,0.11,0.07> } finish { ambient 0 diffuse 0.8 } }
  union { #local I = 0; #while (I < 420)
    #local A = rand(Rn)*2*pi; #local B = acos(2*rand(Rn)-1); #local R = pow(rand(Rn), 0.4);
    sphere { P + S*<210*R*sin(B)*cos(A), 430 + 200*R*cos(B), 190*R*sin(B)*sin(A)>, S*(13 + 26*rand(Rn)) }
    #local I = I+1; #end
    texture { pigment { bozo color_map { [0 rgb <0.10,0.16,0.025>] [1 rgb <0.30,0.33,0.06>] } scale 22 } finish { ambient 0 diffuse 0.85 } normal { bumps 1 scale 5 } } }
#end
Tree(<-560, 0, 900>, 1.35)
Tree(<900, 0, 2300>, 1.3) Tree(<1350, 0, 2500>, 1.1) Tree(<-1700, 0, 2900>, 1.2)
// A row of hives in pale paint.
#macro Hive(P, C) union {
  box { <-26,10,-26>, <26,38,26> } box { <-26,40,-26>, <26,66,26> } box { <-30,67,-30>, <30,73,30> pigment { rgb 0.5 } }
  box { <-12,12,-27>, <12,15,-25> pigment { rgb 0.03 } } box { <-20,0,-20>, <20,10,20> pigment { rgb <0.25,0.2,0.14> } }
  pigment { rgb C } finish { ambient 0 diffuse 0.8 } rotate y*20 translate P } #end
Hive(<-250, 0, 560>, <0.62,0.58,0.46>) Hive(<-110, 0, 640>, <0.42,0.50,0.55>) Hive(<60, 0, 720>, <0.60,0.44,0.22>) Hive(<330, 0, 820>, <0.62,0.58,0.46>)
fog { distance 70000 rgb <0.72, 0.72, 0.68>*0.9 }
