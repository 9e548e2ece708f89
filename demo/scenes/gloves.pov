// LH-050 "Frame out of the hive": sage gloves pull a comb fast. clock runs 0…1 over the shot.
#include "stage.inc"
Cam(<0, 60, -170>, <0, 52, 0>, 32, W, H)
object { Screen(190, 260, 400, 0) translate -y*150 }
ScreenLights(190, 160, 120, 0.48)
SoftLight(<-130, 150, -120>, rgb 1.1*<1, 0.94, 0.85>, 70, 3)
SoftLight(<140, 100, -140>, rgb 0.26*<0.88, 0.94, 1>, 90, 2)
#if (Mode != 2) light_source { <90, 150, 120>, rgb 0.8*<1, 0.97, 0.92>
  spotlight point_at <0, 50, 0> radius 20 falloff 34 area_light <25,0,0>, <0,20,15>, 2, 2 adaptive 0 jitter } #end

#if (Mode != 4)
#declare Tau = 2*pi;
// The frame swings left and right about four centimetres between frames, and tilts.
#declare At = <16*sin(Tau*clock), 56 + 7*sin(2*Tau*clock), 0>;
#declare Tilt = 9*cos(Tau*clock);

#macro Glove(S)
  union {
    sphere { <S*2.5, 0, 0>, 5.6 }
    sphere_sweep { linear_spline 3, <S*3, -1, 1>, 5.2, <S*9, -7, 5>, 4.8, <S*16, -16, 12>, 5.8 }
    #local I = 0; #while (I < 4)
      sphere_sweep { linear_spline 3, <S*1, 3.4-I*2.3, -2>, 1.7, <S*-3.4, 3.8-I*2.3, -4>, 1.6, <S*-6.6, 3-I*2.2, -2.4>, 1.4 }
      #local I = I + 1; #end
    sphere_sweep { linear_spline 3, <S*2, 4, 0>, 1.9, <S*-1, 7, 0>, 1.7, <S*-3.6, 7.4, -1>, 1.5 }
    texture { SageCloth }
  }
  sphere_sweep { linear_spline 3, <S*15, -15, 11>, 6.9, <S*27, -29, 20>, 8.6, <S*40, -62, 24>, 10 texture { LinenCream } }
#end

union {
  // The comb frame: pine bars, wax with cells, a few open to the screen.
  box { <-23, 10, -1.4>, <23, 12.4, 1.4> texture { Pine } }
  box { <-20, -14, -1>, <-18.6, 10, 1> texture { Pine rotate x*90 } }
  box { <18.6, -14, -1>, <20, 10, 1> texture { Pine rotate x*90 } }
  box { <-20, -15, -0.9>, <20, -14, 0.9> texture { Pine } }
  difference {
    box { <-18.6, -14, -0.8>, <18.6, 10, 0.8> }
    #local R = 0; #while (R < 9) #local C = 0; #while (C < 15)
      #local P = <-17.4 + C*2.5 + 1.25*mod(R, 2), -12.4 + R*2.4, 0>;
      cylinder { P - z*1, P - z*((mod(C*7 + R*5, 11) = 0) ? -1 : 0.15), 1.08 }
      #local C = C + 1; #end #local R = R + 1; #end
    texture { pigment { rgb <0.62, 0.42, 0.12> } finish { ambient 0 diffuse 0.8 specular 0.2 roughness 0.05 } }
  }
  union { Glove(1) translate <22, 8, 0> }
  union { Glove(-1) translate <-22, 8, 0> }
  rotate z*Tilt translate At
}
#end
