/** What several kernels share; nothing of it is called from outside. */

/** Four whole codes of 16 bits as floats. */
export function codes(at: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(at)));
}
