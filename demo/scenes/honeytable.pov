// LH-020 "The honey table": jars of honey, a brass lid, a dipper and a linen cloth on glossy white.
#declare MaxTrace = 6;
#include "stage.inc"
Cam(<-6, 38, -108>, <1, 12.5, 0>, 33, W, H)
object { Screen(130, 200, 330, 0) translate -y*130 }
ScreenLights(130, 120, 120, 0.5)
SoftLight(<-95, 110, -70>, rgb 1.15*<1, 0.94, 0.85>, 60, 3)
SoftLight(<110, 70, -95>, rgb 0.28*<0.88, 0.94, 1>, 80, 3)
#if (Mode != 2) light_source { <70, 95, 85>, rgb 0.8*<1, 0.97, 0.92>
  spotlight point_at <0, 12, 0> radius 20 falloff 34 area_light <25,0,0>, <0,20,15>, 3, 3 adaptive 0 jitter } #end

#if (Mode != 4)
#declare Honey = material {
  texture { pigment { rgbf <0.86, 0.46, 0.05, 0.55> } finish { ambient 0 diffuse 0.75 specular 0.3 roughness 0.01 } }
  interior { ior 1.48 fade_color <0.86, 0.46, 0.06> fade_distance 11 fade_power 1001 }
}
#declare JarGlass = material {
  texture { pigment { rgbt <0.97, 0.99, 0.98, 0.97> } finish { ambient 0 diffuse 0 specular 0.8 roughness 0.003 reflection 0.05 } }
  interior { ior 1.45 }
}
#macro Jar(R, Ht, Fill, Lid)
  union {
    difference {
      union {
        cylinder { <0, 0.8, 0>, <0, Ht-2.4, 0>, R }
        torus { R-0.8, 0.8 translate y*0.8 } cylinder { <0,0,0>, <0,0.9,0>, R-0.8 }
        cone { <0, Ht-2.4, 0>, R, <0, Ht-0.8, 0>, R-0.9 }
        cylinder { <0, Ht-0.8, 0>, <0, Ht+1.6, 0>, R-0.9 }
      }
      union {
        cylinder { <0, 1, 0>, <0, Ht-2.5, 0>, R-0.45 }
        cone { <0, Ht-2.5, 0>, R-0.45, <0, Ht-0.9, 0>, R-1.35 }
        cylinder { <0, Ht-1, 0>, <0, Ht+2, 0>, R-1.35 }
      }
      material { JarGlass } no_radiosity
    }
    #if (Fill > 0) cylinder { <0, 1.001, 0>, <0, 1+(Ht-3.6)*Fill, 0>, R-0.451 material { Honey } no_radiosity } #end
    #if (Lid)
      union {
        cylinder { <0, Ht-0.3, 0>, <0, Ht+2, 0>, R-0.45 }
        torus { R-0.75, 0.3 translate y*(Ht+2) }
        #local K = 0; #while (K < 48) cylinder { <R-0.42, Ht-0.2, 0>, <R-0.42, Ht+1.7, 0>, 0.13 rotate y*K*7.5 } #local K = K+1; #end
        texture { Brass }
      }
      // A plain paper label with three pressed hexagons.
      difference {
        cylinder { <0, 3.2, 0>, <0, Ht-5, 0>, R+0.06 open }
        plane { z, 0 inverse rotate y*0 translate -z*R*0.35 }
        texture { pigment { rgb <0.66, 0.60, 0.46> } finish { ambient 0 diffuse 0.85 } }
      }
      #local K = -1; #while (K < 2)
        prism { linear_spline 0, 0.12, 7,
          #local A = 0; #while (A < 7) <0.95*cos(A*pi/3), 0.95*sin(A*pi/3)> #if (A < 6) , #end #local A = A+1; #end
          rotate x*-90 translate <0, Ht*0.42 + 0.82*abs(K) - 0.3, -R-0.1> rotate y*K*14
          texture { pigment { rgb <0.50, 0.27, 0.05> } finish { ambient 0 diffuse 0.8 } } }
        #local K = K+1; #end
    #end
  }
#end

// The glossy white table.
box { <-72, -3, -42>, <72, 0, 34>
  texture { pigment { rgb 0.70 } finish { ambient 0 diffuse 0.8 specular 0.35 roughness 0.004 reflection 0.08 } }
  interior { ior 1.5 } }

object { Jar(8.6, 21, 0.95, 1) rotate y*12 translate <-21, 0.01, 5> }
object { Jar(6.9, 15, 0.62, 0) translate <5, 0.01, -4> }
object { Jar(6.2, 12.5, 0.9, 1) rotate y*-24 translate <28, 0.01, 8> }

// A lid lying by, and the dipper across it.
union { cylinder { 0, y*2, 6.4 } torus { 6.1, 0.3 translate y*2 } texture { Brass } translate <14, 0, -22> }
union {
  sphere_sweep { linear_spline 2, <0,0,0>, 0.6, <0,0,17>, 0.45 }
  #declare K = 0; #while (K < 7) torus { 1.5-0.11*abs(K-3), 0.34 rotate x*90 translate -z*(0.6+K*0.72) } #declare K = K+1; #end
  cylinder { 0, -z*5.6, 0.8 }
  texture { Pine } rotate x*-9 rotate y*64 translate <14, 3.6, -22>
}

// A sprig of linden: thin stalks, leaves, and fine bracts.
#declare Rn = seed(29);
#declare K = 0; #while (K < 9)
  #local A = K*0.7; #local Tip = <-40 + 9*sin(A*2.1) + K, 13 + 9*rand(Rn), -8 + 7*cos(A*1.7)>;
  sphere_sweep { cubic_spline 5, <-40,-6,-8>, 0.16, <-40, 0.2, -8>, 0.16, (<-40,4,-8>+Tip)/2 + <0,2,0>, 0.12, Tip, 0.08, Tip+<1,2,0>, 0.05
    pigment { rgb <0.22, 0.17, 0.06> } finish { ambient 0 diffuse 0.8 } }
  sphere { 0, 1 scale <2.6, 0.12, 1.9> rotate <40*rand(Rn)-10, 360*rand(Rn), 60*rand(Rn)-30> translate Tip
    pigment { rgb <0.42, 0.36, 0.10> } finish { ambient 0 diffuse 0.8 specular 0.1 } }
  #local J = 0; #while (J < 7)
    sphere { 0, 0.42 translate Tip + <3*rand(Rn)-1.5, -2.4*rand(Rn), 3*rand(Rn)-1.5> pigment { rgb <0.72, 0.62, 0.30> } finish { ambient 0 diffuse 0.85 } }
    #local J = J+1; #end
  #declare K = K+1; #end
union { cylinder { 0, y*7, 3.4 } texture { pigment { rgb <0.30,0.26,0.22> } finish { ambient 0 diffuse 0.8 specular 0.2 roughness 0.02 } } translate <-40, 0.01, -8> }

// A linen cloth hanging over the edge, with loose fringe threads.
#declare Fold = function(x) { 0.6*sin(x*0.55) + 0.35*sin(x*1.27+1) }
mesh {
  #declare I = 0; #while (I < 60)
    #local X0 = -32 + I*0.4; #local X1 = X0 + 0.4;
    #local J = 0; #while (J < 20)
      #local T0 = J/20; #local T1 = (J+1)/20;
      #macro Cloth(X, T) (<X + 2.2*T, max(0.15, 0.3 + 0.25*Fold(X)) , -30 + 26*T + 0.6*Fold(X+3)>) #end
      triangle { Cloth(X0,T0), Cloth(X1,T0), Cloth(X1,T1) } triangle { Cloth(X0,T0), Cloth(X1,T1), Cloth(X0,T1) }
      #local J = J+1; #end
    #declare I = I+1; #end
  texture { LinenCream } double_illuminate
}
mesh {
  #declare I = 0; #while (I < 150)
    #local X = -32 + 24*I/150; #local P = <X, 0.4, -30>;
    #local J = 1; #while (J < 5)
      #local Q = <X + (rand(Rn)-0.5)*0.5*J, 0.28, -30 - J*0.7>;
      Thread(P, Q, 0.05) #local P = Q; #local J = J+1; #end
    #declare I = I+1; #end
  texture { LinenCream } double_illuminate
}

// Loose threads and grasses reaching up over the screen.
mesh {
  #declare I = 0; #while (I < 60)
    #local P = <-40 + 2*(rand(Rn)-0.5), 6.5, -8 + 2*(rand(Rn)-0.5)>; #local D = <(rand(Rn)-0.5)*1.6, 1.5+0.6*rand(Rn), (rand(Rn)-0.5)*1.2>;
    #local J = 0; #while (J < 12)
      #local D = D + <(rand(Rn)-0.5)*0.3 + D.x*0.08, -0.06, (rand(Rn)-0.5)*0.3>;
      #local Q = P + D; Thread(P, Q, 0.07 - 0.0045*J) #local P = Q; #local J = J+1; #end
    #declare I = I+1; #end
  texture { pigment { rgb <0.52, 0.42, 0.20> } finish { ambient 0 diffuse 0.85 } } double_illuminate
}
#end
