// LH-030 "The smoker": polished brass and smoke in front of the screen. clock runs 0…1 over the shot.
#include "stage.inc"
Cam(<10, 40, -150>, <0, 30, 0>, 30, W, H)
object { Screen(170, 240, 380, 0) translate -y*150 }
ScreenLights(170, 150, 100, 0.5)
SoftLight(<-120, 130, -110>, rgb 1.1*<1, 0.94, 0.85>, 60, 3)
SoftLight(<130, 80, -120>, rgb 0.3*<0.88, 0.94, 1>, 80, 2)
#if (Mode != 2) light_source { <80, 120, 110>, rgb 0.8*<1, 0.97, 0.92>
  spotlight point_at <0, 30, 0> radius 20 falloff 34 area_light <25,0,0>, <0,20,15>, 2, 2 adaptive 0 jitter } #end

#if (Mode != 4)
// A hive roof to stand on.
box { <-34, -6, -22>, <34, 0, 22> texture { Pine } }
box { <-38, -30, -26>, <38, -6.2, 26> texture { Pine rotate y*90 } }

// The smoker: brass can with hoops and spout, leather bellows.
union {
  cylinder { <0, 0, 0>, <0, 24, 0>, 8.6 }
  torus { 8.6, 0.6 translate y*0.6 } torus { 8.6, 0.45 translate y*12 } torus { 8.7, 0.6 translate y*24 }
  cone { <0, 24, 0>, 8.5, <-8, 37, 0>, 2.2 }
  torus { 2.2, 0.3 rotate z*31 translate <-8, 37, 0> }
  sphere { <0, 26, -8>, 1.1 }
  texture { Brass }
  rotate y*-14 translate <-6, 0, 0>
}
union {
  box { <0, 2, -6>, <1.2, 22, 6> texture { Pine } }
  box { <1.2, 3, -5.4>, <6.5, 21, 5.4> rotate z*-5 texture { Leather } }
  box { <6.5, 2, -6>, <7.7, 22, 6> rotate z*-8 texture { Pine } }
  rotate y*-14 translate <5, 0, 0>
}
// A hook of wire, and a loose cord.
torus { 2.4, 0.16 rotate x*90 translate <-6, 15, -9> texture { Brass } }
#declare Rn = seed(17);
mesh {
  #declare I = 0; #while (I < 26)
    #local P = <15 + rand(Rn), 21, -2 + 3*rand(Rn)>; #local D = <0.9 + 0.9*rand(Rn), 0.9*rand(Rn) - 0.1, 0.6*(rand(Rn)-0.5)>;
    #local J = 0; #while (J < 16)
      #local D = D + <0.02*sin(6.283*clock + I), -0.16, (rand(Rn)-0.5)*0.2>;
      #local Q = P + D; Thread(P, Q, 0.075) #local P = Q; #local J = J+1; #end
    #declare I = I+1; #end
  texture { pigment { rgb <0.50, 0.38, 0.20> } finish { ambient 0 diffuse 0.85 } } double_illuminate
}

// Smoke: thin sheets of noise that rise and turn, each lit from both sides.
#declare Noise = function { pattern { bozo turbulence 0.8 octaves 5 omega 0.55 scale 0.42 } }
#declare K = 0; #while (K < 9)
  #local Rise = mod(K/9 + 0.5*clock, 1);
  #local R = 5 + 17*Rise;
  disc {
    0, z, 1
    texture {
      pigment {
        function { max(0, 1 - sqrt(x*x + y*y))*max(0, Noise(x + 3.1*K, y - 0.9*clock, 0.8*clock + K) - 0.3)*1.5 }
        color_map { [0 rgbt <0.72, 0.72, 0.74, 1>] [1 rgbt <0.72, 0.72, 0.74, 0.4>] }
      }
      finish { ambient 0 diffuse 0.9 }
    }
    double_illuminate no_shadow no_radiosity
    scale <R, 1.25*R, 1> rotate z*(40*K + 25*clock)
    translate <-15 - 7*Rise + 4*sin(6.283*(Rise + 0.3*K)), 37 + 30*Rise, -3 + K*0.7>
  }
  #declare K = K + 1; #end
#end
