// Background: the honey pantry, evening light from a window on shelves of jars, out of focus.
#version 3.7;
#ifndef (Jx) #declare Jx = 0; #end
#ifndef (Jy) #declare Jy = 0; #end
#ifndef (RadCount) #declare RadCount = 20; #end
global_settings { assumed_gamma 1.0
  radiosity { pretrace_start 0.08 pretrace_end 0.04 count RadCount error_bound 0.5 recursion_limit 2 nearest_count 8 } }
camera { perspective location <0, 120, -330> direction z*1.5 + x*Jx/H + y*Jy/H right x*W/H up y rotate x*2 }
light_source { <-420, 300, -120>, rgb <2.1, 1.55, 0.95> area_light <60,0,0>, <0,90,0>, 3, 3 adaptive 0 jitter fade_distance 420 fade_power 2 }
light_source { <330, 240, -300>, rgb <0.16, 0.20, 0.28> area_light <90,0,0>, <0,90,0>, 2, 2 adaptive 0 jitter }
#declare Wood = texture { pigment { wood turbulence 0.08 color_map { [0 rgb <0.34,0.20,0.10>] [0.6 rgb <0.25,0.14,0.07>] [1 rgb <0.16,0.09,0.045>] } rotate x*86 scale 9 } finish { ambient 0 diffuse 0.8 specular 0.1 roughness 0.05 } }
plane { z, 130 pigment { rgb <0.52, 0.44, 0.34> } finish { ambient 0 diffuse 0.8 } normal { bumps 0.15 scale 9 } }
plane { y, 0 texture { Wood } }
#declare I = 0; #while (I < 4)
  box { <-260, 46+I*52, 84>, <260, 51+I*52, 130> texture { Wood } }
  #declare I = I+1; #end
#declare Rn = seed(5);
#declare I = 0; #while (I < 4) #declare X = -235; #while (X < 240)
  #local R = 9 + 7*rand(Rn); #local T = 18 + 20*rand(Rn); #local K = rand(Rn);
  cylinder { <X, 51+I*52, 106>, <X, 51+I*52+T, 106>, R
    pigment { rgb (K < 0.6 ? <0.55+0.2*rand(Rn), 0.28+0.12*rand(Rn), 0.04> : (K < 0.8 ? <0.55,0.50,0.42> : <0.20,0.12,0.07>)) }
    finish { ambient 0 diffuse 0.7 specular 0.5 roughness 0.02 } }
  cylinder { <X, 51+I*52+T, 106>, <X, 51+I*52+T+5, 106>, R*0.85 pigment { rgb <0.5,0.36,0.16> } finish { ambient 0 diffuse 0.5 specular 0.7 roughness 0.03 } }
  #declare X = X + 2*R + 4 + 24*rand(Rn)*rand(Rn);
  #end #declare I = I+1; #end
