// LH-010 "Veil at the hive": a beekeeper lifts a smoker to the hive. clock runs 0…1 over the shot.
#include "stage.inc"
#declare W = 1280; #declare H = 720;
Cam(<0, 134, -372>, <-4, 127, 0>, 34, W, H)

object { Screen(250, 330, 420, 0) }
ScreenLights(250, 210, 300, 0.42)

// Subject lights: warm key from the left, cooler soft fill, rim from behind right.
SoftLight(<-210, 265, -190>, rgb 1.05*<1, 0.93, 0.82>, 90, 3)
SoftLight(<230, 190, -230>, rgb 0.2*<0.86, 0.93, 1>, 140, 2)
light_source { <170, 300, 170>, rgb 0.9*<1, 0.96, 0.9>
  spotlight point_at <5, 125, 0> radius 18 falloff 30 area_light <40,0,0>, <0,30,20>, 2, 2 adaptive 0 jitter }

#if (Mode != 4)
#declare Tau = 2*pi;
#declare Sway = 2.2*sin(Tau*clock);
#declare Lift = 0.5 - 0.5*cos(Tau*min(1, clock*1.15));
#declare Shake = 0; #if (clock > 0.42 & clock < 0.78) #declare Shake = sin((clock-0.42)/0.36*Tau*2); #end

// The hive: two pine boxes and a roof, front left.
union {
  box { <-24, 0, -20>, <24, 27, 20> }
  box { <-24, 28, -20>, <24, 55, 20> }
  box { <-27, 56, -23>, <27, 61, 23> }
  box { <-8, 3, -21>, <8, 5.5, -19> pigment { rgb 0.02 } }
  texture { Pine }
  rotate y*16 translate <-74, 22, -10>
}

#declare Head = <6+Sway, 158, 0>;

// Body: one blob, so that the shoulders run into the sleeves.
blob {
  threshold 0.5
  cylinder { <6, 30, 4>, <6+0.7*Sway, 112, 3>, 31, 1.6 }
  sphere { <-12+0.8*Sway, 119, 4>, 19, 1.2 }
  sphere { <24+0.8*Sway, 119, 4>, 19, 1.2 }
  cylinder { <28+0.8*Sway, 118, 4>, <41, 88, -5>, 13.5, 1.3 }
  texture { LinenCream }
}
// Placket, buttons, and pocket.
box { <-1.2, 62, -1>, <1.2, 128, 0> rotate z*-0.4*Sway translate <6+0.3*Sway, 0, -17.6> texture { LinenCream } }
#declare I = 0; #while (I < 5)
  cylinder { <0, 0, -1.4>, <0, 0, 0>, 0.9 translate <6+0.5*Sway, 76+I*10, -18> pigment { rgb <0.22, 0.13, 0.07> } finish { diffuse 0.7 specular 0.5 } }
  #declare I = I + 1; #end
box { <-6, -7, -1.2>, <6, 7, 3> translate <19+0.5*Sway, 103, -15.6> texture { LinenCream } }
box { <-6.3, 4.6, -1.9>, <6.3, 7.2, 3> translate <19+0.5*Sway, 103, -15.6> texture { LinenCream } }
// Collar and neck.
torus { 9, 2.6 scale <1,1,0.95> translate <6+0.85*Sway, 132, 2> texture { LinenCream } }
cylinder { <6+0.8*Sway, 128, 2>, Head - y*6, 6.2 texture { Skin } }

// Head with nose, ears, eyes and mouth.
union {
  sphere { 0, 1 scale <9.2, 12, 10.4> texture { Skin } }
  sphere { 0, 1 scale <1.6, 2.6, 2.4> translate <0, -0.5, -10.2> texture { Skin } }
  sphere { 0, 1 scale <7.2, 5, 7.6> translate <0, -8, -1.6> texture { Skin } }
  sphere { 0, 1 scale <0.9, 2.2, 1.5> translate <-9.2, 0, 0> texture { Skin } }
  sphere { 0, 1 scale <0.9, 2.2, 1.5> translate <9.2, 0, 0> texture { Skin } }
  #declare S = -1; #while (S < 2)
    sphere { 0, 1.25 translate <S*3.7, 2, -9.1> pigment { rgb 0.75 } finish { diffuse 0.8 specular 0.5 } }
    sphere { 0, 0.65 translate <S*3.7, 2, -10.0> pigment { rgb <0.05,0.03,0.02> } finish { specular 0.7 roughness 0.01 } }
    sphere { 0, 1 scale <2.5, 0.5, 0.9> translate <S*3.7, 4.4, -9.6> texture { FairHair } }
    #declare S = S + 2; #end
  sphere { 0, 1 scale <2.6, 0.55, 0.9> translate <0, -6.2, -8.9> pigment { rgb <0.36,0.13,0.11> } finish { diffuse 0.8 } }
  sphere { 0, 1 scale <9.8, 9, 10.6> translate <0, 4.4, 1.6> texture { FairHair } }
  rotate y*(14 - 10*Lift) rotate z*(-2*Sway) translate Head
}

// Loose fair hair to the shoulders, each strand a thread about a third of a pixel wide.
#declare Rn = seed(71);
mesh {
  #declare I = 0; #while (I < 420)
    #local Side = (rand(Rn) < 0.5 ? -1 : 1);
    #local A0 = (rand(Rn) - 0.25)*1.3;
    #local P0 = Head + <Side*(8.6 + rand(Rn)), 3 - 6*rand(Rn), 5*sin(A0)>;
    #local Out = 2 + 9*pow(rand(Rn), 2);
    #local Len = 15 + 15*rand(Rn);
    #local Ph = rand(Rn)*Tau; #local Wob = 0.5 + 1.1*rand(Rn); #local Dz = (rand(Rn)-0.4)*9;
    #local J = 1; #while (J <= 9)
      #local T = J/9;
      #local Q = Head + <Side*(9 + Out*T*T), 1 - Len*T, Dz*T + 4>
        + <Wob*sin(Ph + 5*T) + 1.6*T*sin(Tau*clock*2 + Ph), 0, Wob*cos(Ph + 4*T)>;
      Thread(P0, Q, 0.055 - 0.025*T)
      #local P0 = Q;
      #local J = J + 1; #end
    #declare I = I + 1; #end
  texture { FairHair } double_illuminate
}

// Straw hat.
#declare HatAt = Head + <0, 9.4, 0>;
union {
  lathe { cubic_spline 9, <0, 12.2>, <0, 12>, <4, 11.8>, <8.2, 10.4>, <10.6, 4>, <11.4, 0.4>, <19, -0.9>, <25.5, -0.2>, <26, 0.2> }
  torus { 25.4, 0.75 translate -y*0.2 }
  texture { Straw }
  rotate z*(3 - 2*Sway) rotate x*-3 translate HatAt
}
cylinder { <0, 1.2, 0>, <0, 4.4, 0>, 11.9 open texture { pigment { rgb <0.10, 0.07, 0.05> } finish { diffuse 0.7 } } rotate z*(3 - 2*Sway) rotate x*-3 translate HatAt }

// Mesh veil: a cylinder of threads from the brim to the shoulders.
#macro VeilAt(U, V)
  #local R = 23.5 - 5.5*V*V + 0.9*sin(U*7 + 2*clock*Tau)*V;
  #local Dx = 1.8*V*sin(Tau*clock*2 + 0.5);
  (HatAt + <R*cos(U) + Dx, -0.4 - 33*V, R*0.92*sin(U)>)
#end
mesh {
  #declare NU = 120; #declare NV = 34;
  #declare I = 0; #while (I < NU)
    #declare J = 0; #while (J < NV)
      #local A = VeilAt(I/NU*Tau, J/NV);
      Thread(A, VeilAt((I+1)/NU*Tau, J/NV), 0.05)
      Thread(A, VeilAt(I/NU*Tau, (J+1)/NV), 0.05)
      #declare J = J + 1; #end
    #declare I = I + 1; #end
  texture { pigment { rgb 0.055 } finish { ambient 0 diffuse 0.7 } } double_illuminate
}

// The arm that lifts the smoker; sage gloves.
#declare Shoulder = <-15+0.8*Sway, 119, 2>;
#declare Hand = <-38 + 6*Lift, 92 + 30*Lift + 4*Shake, -36 - 4*Lift>;
#declare Elbow = <-36 + 1*Lift, 90 + 8*Lift + 1.4*Shake, -6>;
sphere_sweep { linear_spline 3, Shoulder, 9.2, Elbow, 7.4, Hand + <3, -2, 9>, 5.8 texture { LinenCream } }
union {
  sphere_sweep { linear_spline 2, Hand + <0,0,8>, 6.6, Hand, 4.8 }
  sphere { Hand, 5.4 }
  #declare I = 0; #while (I < 4)
    sphere_sweep { linear_spline 3, Hand + <-3+I*2, 1, -1>, 1.7, Hand + <-5+I*1.2, 3.4-I*1.7, -5.6>, 1.6, Hand + <-0.4, 2.6-I*1.9, -8.4>, 1.5 }
    #declare I = I + 1; #end
  texture { SageCloth }
}
// The other hand rests at the hip.
sphere_sweep { linear_spline 3, <41,89,-5>, 7, <46, 78, -12>, 6.2, <40, 68, -20>, 5.4 texture { SageCloth } }

// Smoker: brass can, spout, leather bellows.
union {
  cylinder { <0, -9, 0>, <0, 8, 0>, 6.2 texture { Brass } }
  torus { 6.2, 0.45 translate y*8 texture { Brass } }
  torus { 6.2, 0.45 translate -y*9 texture { Brass } }
  cone { <0, 8, 0>, 6.1, <-5.5, 17, 0>, 1.5 texture { Brass } }
  box { <8.2, -8, -4.5>, <12.8, 8, 4.5> rotate z*-6 texture { Leather } }
  box { <7.2, -9, -5>, <8.2, 9, 5> texture { Pine } }
  box { <12.8, -9, -5>, <13.8, 9, 5> rotate z*-6 texture { Pine } }
  rotate y*18 rotate z*(6 + 16*Lift + 4*Shake)
  translate Hand + <-9, 4, -11>
}
#end
