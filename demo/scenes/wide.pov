// LH-060 "The wide": a badly lit, wrinkled, marked screen that ends in the frame, with stands in view.
#include "stage.inc"
Cam(<0, 150, -560>, <0, 118, 0>, 42, W, H)

// The screen: cloth with creases, a seam, and tape markers; it ends inside the frame on the right.
#declare Crease = function { pattern { bumps turbulence 0.25 scale <26, 90, 1> } }
union {
  difference {
    union {
      mesh {
        #local NX = 120; #local X0 = -260; #local X1 = 205;
        #local I = 0; #while (I < NX)
          #local A = X0 + (X1-X0)*I/NX; #local B = X0 + (X1-X0)*(I+1)/NX;
          #local J = 0; #while (J < 16)
            #local C = -2 + 21*J; #local D = C + 21;
            #macro Cloth(X, Y) (<X, Y, 180 + 7*Crease(X, Y, 0) + 2.2*sin(X*0.11 + 0.02*Y)>) #end
            triangle { Cloth(A,C), Cloth(B,C), Cloth(B,D) } triangle { Cloth(A,C), Cloth(B,D), Cloth(A,D) }
            #local J = J + 1; #end
          #local I = I + 1; #end
      }
    }
    plane { y, -1000 }
  }
  texture { pigment { color ScreenPaint } finish { ambient 0 diffuse 0.9 } }
  #if (Mode >= 1 & Mode <= 3) no_image #end
}
box { <-260, -2, -120>, <205, 0, 190> texture { pigment { color ScreenPaint*0.92 } finish { ambient 0 diffuse 0.9 } } #if (Mode >= 1 & Mode <= 3) no_image #end }
box { <-61, 0, 176>, <-60.2, 330, 178> texture { pigment { color ScreenPaint*0.7 } finish { ambient 0 diffuse 0.9 } } #if (Mode >= 1 & Mode <= 3) no_image #end }
#declare Tape = texture { pigment { rgb <0.75, 0.24, 0.05> } finish { ambient 0 diffuse 0.85 } }
#local MX = -1; #while (MX < 2) #local MY = 0; #while (MY < 2)
  union { box { <-5, -1, -1>, <5, 1, 0> } box { <-1, -5, -1>, <1, 5, 0> } translate <-40 + MX*120, 120 + MY*105, 172>
    texture { Tape } #if (Mode >= 1 & Mode <= 3) no_image #end }
  #local MY = MY + 1; #end #local MX = MX + 1; #end

// One screen light is out: the left is a stop and a half over the right, with a hot spot.
#if (Mode != 2) light_source { <-250, 210, 20>, rgb 0.75*<1, 1, 0.96> spotlight point_at <-120, 150, 180> radius 24 falloff 62 tightness 2
  area_light <40,0,0>, <0,60,0>, 2, 2 adaptive 0 jitter fade_distance 240 fade_power 2 } #end
SoftLight(<-230, 280, -260>, rgb 1.1*<1, 0.93, 0.82>, 90, 3)
SoftLight(<240, 210, -280>, rgb 0.25*<0.86, 0.93, 1>, 140, 2)

// The stands stay in the clean plate: they are part of the stage, not of the subject.
#declare Stand = union {
  cylinder { 0, y*215, 1.6 }
  cylinder { <0, 60, 0>, <-26, 0, -14>, 1.1 } cylinder { <0, 60, 0>, <26, 0, -14>, 1.1 } cylinder { <0, 60, 0>, <0, 0, 28>, 1.1 }
  box { <-24, 190, -9>, <24, 236, 7> }
  texture { pigment { rgb 0.03 } finish { ambient 0 diffuse 0.7 specular 0.3 roughness 0.05 } }
}
object { Stand translate <235, 0, 40> #if (Mode >= 1 & Mode <= 3) no_image #end }
object { Stand rotate y*70 translate <-232, 0, 60> #if (Mode >= 1 & Mode <= 3) no_image #end }

#if (Mode != 4)
#include "keeper.inc"
// Below the jacket: trousers and boots.
cylinder { <-6, 10, 4>, <-2, 62, 4>, 12.5 texture { LinenCream } }
cylinder { <20, 10, 4>, <15, 62, 4>, 12.5 texture { LinenCream } }
sphere_sweep { linear_spline 2, <-6, 6, 6>, 8, <-8, 5, -14>, 6.5 texture { Leather } }
sphere_sweep { linear_spline 2, <20, 6, 6>, 8, <23, 5, -14>, 6.5 texture { Leather } }
// A hive box on the floor beside the keeper.
box { <-24, 0, -20>, <24, 30, 20> texture { Pine } rotate y*-18 translate <86, 0, -30> }
#end
