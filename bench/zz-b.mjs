// bench/zz-b.mts
import path3 from "node:path";

// src/core/color/half.ts
var f32 = new Float32Array(1);
var u32 = new Uint32Array(f32.buffer);
function halfToFloat(bits) {
  const sign = bits & 32768 ? -1 : 1;
  const exponent = bits >> 10 & 31;
  const fraction2 = bits & 1023;
  if (exponent === 0) return sign * fraction2 * 2 ** -24;
  if (exponent === 31) return fraction2 ? Number.NaN : sign * Number.POSITIVE_INFINITY;
  return sign * (1 + fraction2 / 1024) * 2 ** (exponent - 15);
}
function floatToHalf(value) {
  f32[0] = value;
  const x = u32[0];
  const sign = x >>> 16 & 32768;
  const exponent = x >>> 23 & 255;
  const fraction2 = x & 8388607;
  if (exponent === 255) return sign | 31744 | (fraction2 ? 512 : 0);
  const e = exponent - 112;
  if (e >= 31) return sign | 31744;
  const shift = e <= 0 ? 14 - e : 13;
  if (shift > 24) return sign;
  const mantissa = e <= 0 ? fraction2 | 8388608 : fraction2;
  const kept = mantissa >>> shift;
  const rest = mantissa & (1 << shift) - 1;
  const half = 1 << shift - 1;
  const up = rest > half || rest === half && (kept & 1) === 1 ? 1 : 0;
  return sign | (e <= 0 ? kept : e << 10 | kept) + up;
}

// src/core/color/bt709.ts
var ALPHA = 1.09929682680944;
var BETA = 0.018053968510807;
function bt709ToLinear(v) {
  if (v < 0) return -bt709ToLinear(-v);
  return v < 4.5 * BETA ? v / 4.5 : ((v + ALPHA - 1) / ALPHA) ** (1 / 0.45);
}

// src/core/color/srgb.ts
function srgbToLinear(v) {
  if (v < 0) return -srgbToLinear(-v);
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}
function linearToSrgb(v) {
  if (v < 0) return -linearToSrgb(-v);
  return v <= 31308e-7 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055;
}

// src/core/color/transfer.ts
var TRANSFERS = ["srgb", "bt709", "gamma22", "linear"];
var signedPower = (v, p2) => v < 0 ? -((-v) ** p2) : v ** p2;
var toLinear = {
  srgb: srgbToLinear,
  bt709: bt709ToLinear,
  gamma22: (v) => signedPower(v, 2.2),
  linear: (v) => v
};
var tables = /* @__PURE__ */ new Map();
function decodeTable(transfer, bits) {
  const key = `${transfer}/${bits}`;
  let table = tables.get(key);
  if (!table) {
    const top = 2 ** bits - 1;
    const f2 = toLinear[transfer];
    table = Float32Array.from({ length: top + 1 }, (_, i) => f2(i / top));
    tables.set(key, table);
  }
  return table;
}
var FINE_LOW = -0.25;
var FINE_STEP = 1 / 16384;
function fineDecodeTable(transfer) {
  const key = `${transfer}/fine`;
  let table = tables.get(key);
  if (!table) {
    const f2 = toLinear[transfer];
    table = Float32Array.from({ length: Math.round(1.75 / FINE_STEP) + 2 }, (_, i) => f2(FINE_LOW + i * FINE_STEP));
    tables.set(key, table);
  }
  return table;
}

// src/core/color/ycbcr.ts
var MATRICES = ["bt709", "bt601", "bt2020"];
var RANGES = ["limited", "full"];
var LUMA = {
  bt709: { kr: 0.2126, kb: 0.0722 },
  bt601: { kr: 0.299, kb: 0.114 },
  bt2020: { kr: 0.2627, kb: 0.0593 }
};
function codeScale(range, bits) {
  const unit = 2 ** (bits - 8);
  if (range === "limited") return { yOffset: 16 * unit, yScale: 1 / (219 * unit), cOffset: 128 * unit, cScale: 1 / (224 * unit) };
  const top = 2 ** bits - 1;
  return { yOffset: 0, yScale: 1 / top, cOffset: 2 ** (bits - 1), cScale: 1 / top };
}
function rgbFactors(matrix) {
  const { kr, kb } = LUMA[matrix];
  const kg = 1 - kr - kb;
  return { rCr: 2 * (1 - kr), gCb: -2 * kb * (1 - kb) / kg, gCr: -2 * kr * (1 - kr) / kg, bCb: 2 * (1 - kb) };
}

// src/core/kernels/wasm.ts
var WASM = "AGFzbQEAAAABiwEOYAF/AGAGf39/f39/AGAJf399f39/fX1/AGAEe3t7ewF7YAN7e3sAYAR/f39/AGAAAGAOf39/f39/f39/f39/f30AYAl/f39/f39/fX0AYAl/f39/f39/f38AYBF/f39/f39/f39/f39/f319fQBgBX9/f3x/AGAIf39/f39/f38AYAZ/f39/f3wAAxoZAgMEBQYHCAkKAQAAAAAAAAAAAAEBCwwNAQUGAQEIgIACBrkCEX0BQwAAAAALewH9DAAAAAAAAAAAAAAAAAAAAAALewH9DAAAAAAAAAAAAAAAAAAAAAALewH9DAAAAAAAAAAAAAAAAAAAAAALewH9DAAAAAAAAAAAAAAAAAAAAAALewH9DAAAAAAAAAAAAAAAAAAAAAALfwFBAQt7Af0MAAAAAAAAAAAAAAAAAAAAAAt7Af0MAAAAAAAAAAAAAAAAAAAAAAt7Af0MAAAAAAAAAAAAAAAAAAAAAAt/AUEAC3sB/QwAAAAAAAAAAAAAAAAAAAAAC3sB/QwAAAAAAAAAAAAAAAAAAAAAC3sB/QwAAAAAAAAAAAAAAAAAAAAAC3sB/QwAAAAAAAAAAAAAAAAAAAAAC3sB/QwAAAAAAAAAAAAAAAAAAAAAC3sB/QwAAAAAAAAAAAAAAAAAAAAACwfYARMHYm94TWVhbgAYBnNocmluawAUB2VubGFyZ2UAFghkaXN0YW5jZQAXDHdlaWdodGVkQmx1cgATBXdlaWdoAAoKZGlmZmVyZW5jZQAPBmxldmVscwAOB2JvdW5kZWQAEgRvdmVyAAwKbGltaXRTcGlsbAANCXNjcmVlbk91dAALBmNocm9tYQARDmNocm9tYURpc3RhbmNlABAJY2hyb21hUm93AAAJYWxvbmdMdW1hAAkJZGVjb2RlUm93AAcOYmFja1RvUmVjb3JkZWQACAZtZW1vcnkCAAgBBAqXThnBAgIGewN/IAVBAnQhBSAC/RMhCUMAAIA/IAKT/RMhCiAEIAMgCEEBRhshEQNAIAUgD0sEQCAPIBFqIAogACAPav0ABAD95gEgCSABIA9q/QAEAP3mAf3kAf0LBAAgD0EQaiEPDAELCyAIQQFGBEAPCyADQQRrIAMqAgA4AgAgAyAFaiIAIABBBGsqAgA4AgAgBv0TIQxDAACAPyAGk/0TIQ0gB/0TIQlDAACAPyAHk/0TIQoDQCAFIBBLBEAgAyAQaiIA/QAEACEOIAQgEEEBdGoiASAMIABBBGv9AAQA/eYBIA0gDv3mAf3kASILIAkgAP0ABAT95gEgCiAO/eYB/eQBIg79DQABAgMQERITBAUGBxQVFhf9CwQAIAEgCyAO/Q0ICQoLGBkaGwwNDg8cHR4f/QsEECAQQRBqIRAMAQsLC7AFAQF7IwIgACMAQwAAAABbBHsgAiMBIAEgAv3lAf3mAf3kAQUgASAC/esBIAEgAv3qASMAQwAAgD9bGwv95QEgAyMDIAD95gEjBCAB/eYB/eQBIwUgAv3mAf3kAf3mAf3lAf0MAAAAAAAAAAAAAAAAAAAAAP3rAf3mASEDIwZFBEAgA/0MAACAPwAAgD8AAIA/AACAP/0MAABwQgAAcEIAAHBCAABwQiAAIAEgAv3rAf3rASAAIAEgAv3qAf3qAf3lASIE/ecBIgMgASAC/eUB/eYB/QwAAPBCAADwQgAA8EIAAPBCIAMgACAC/eUB/eYB/eUBIAMgACAB/eUB/eYB/QwAAPBCAADwQgAA8EIAAPBC/eUBIAEgAv1E/VIgACAB/UYgACAC/Ub9Tv1S/QwAAAAAAAAAAAAAAAAAAAAAIAT9DAAAAAAAAAAAAAAAAAAAAAD9RP1SIgP94AFBGP0JAgBBHP0JAgAgA/0MAAAAAAAAAAAAAAAAAAAAAP1G/VL95QFBIP0JAgD95wH9DAAAAAAAAAAAAAAAAAAAAAD96wH9DAAAgD8AAIA/AACAPwAAgD/96gEiAyAD/eYB/QwAAEBAAABAQAAAQEAAAEBAIAMgA/3kAf3lAf3mAf3lAf3mASEDCyMKBHsgAyAA/QwAAAAAAAAAAAAAAAAAAAAA/esBQTD9CQIAIgD95wH96gEgAyAA/QwAAAAAAAAAAAAAAAAAAAAA/UT9UiIAIAH9DAAAAAAAAAAAAAAAAAAAAAD96wFBNP0JAgAiAf3nAf3qASAAIAH9DAAAAAAAAAAAAAAAAAAAAAD9RP1SIgAgAv0MAAAAAAAAAAAAAAAAAAAAAP3rAUE4/QkCACIB/ecB/eoBIAAgAf0MAAAAAAAAAAAAAAAAAAAAAP1E/VIFIAMLC6QFAgZ7AX8jC/0MHSXePh0l3j4dJd4+HSXePiAA/eYB/QxOoMA+TqDAPk6gwD5OoMA+IAH95gH95AH9DCl1Qj4pdUI+KXVCPil1Qj4gAv3mAf3kASIHIwz96wEiBUEC/a0BIAVBBP2tAf2uASIDIANBBP2tAf2uASIDIANBCP2tAf2uAf2uASEDIwv9DNCzWT7Qs1k+0LNZPtCzWT4gAP3mAf0MWRc3P1kXNz9ZFzc/WRc3PyAB/eYB/eQB/QyY3ZM9mN2TPZjdkz2Y3ZM9IAL95gH95AEiCCMM/esBIgZBAv2tASAGQQT9rQH9rgEiBCAEQQT9rQH9rgEiBCAEQQj9rQH9rgH9rgEhBCML/QwpL5E8KS+RPCkvkTwpL5E8IAD95gH9DKEr4D2hK+A9oSvgPaEr4D0gAf3mAf3kAf0ME3FfPxNxXz8TcV8/E3FfPyAC/eYB/eQBIgAjDP3rASIBQQL9rQEgAUEE/a0B/a4BIgIgAkEE/a0B/a4BIgIgAkEI/a0B/a4B/a4BIQIDQCAJQQJIBEAgAyADIAP95gEgA/3mASIDIAUgBf3kAf3kASAFIAMgA/3kAf3kAf3nAf3mASEDIAQgBCAE/eYBIAT95gEiBCAGIAb95AH95AEgBiAEIAT95AH95AH95wH95gEhBCACIAIgAv3mASAC/eYBIgIgASAB/eQB/eQBIAEgAiAC/eQB/eQB/ecB/eYBIQIgCUEBaiEJDAELC/0MAAD6QwAA+kMAAPpDAAD6QyADIw0gB/3mASMO/eQBIAcjDP1E/VIgBCMNIAj95gEjDv3kASAIIwz9RP1SIgH95QH95gEkD/0MAABIQwAASEMAAEhDAABIQyABIAIjDSAA/eYBIw795AEgACMM/UT9Uv3lAf3mASQQC7cBAwF7AXwCfwNAIAZBAWogA0gEQCAAIAZBA3RqIgf9AAQAIQQgAQRAIAQgASAGQQJ0av1dAwD9X/3wASEECyAHIAIEeyAEIAIgBkECdGr9XQMA/V/98QEFIAQL/QsEACAGQQJqIQYMAQsLIAMgBkoEQCAAIAZBA3RqKwMAIQUgAQRAIAUgASAGQQJ0aioCALugIQULIAAgBkEDdGogAgR8IAUgAiAGQQJ0aioCALuhBSAFCzkDAAsLmgIA/QwAAAAAAAAAAAAAAAAAAAAAJAH9DAAAAAAAAAAAAAAAAAAAAAAkAv0MAAAAAAAAAAAAAAAAAAAAACQD/QwAAAAAAAAAAAAAAAAAAAAAJAT9DAAAAAAAAAAAAAAAAAAAAAAkBf0MAAAAAAAAAAAAAAAAAAAAACQH/QwAAAAAAAAAAAAAAAAAAAAAJAj9DAAAAAAAAAAAAAAAAAAAAAAkCf0MAAAAAAAAAAAAAAAAAAAAACQL/QwAAAAAAAAAAAAAAAAAAAAAJAz9DAAAAAAAAAAAAAAAAAAAAAAkDf0MAAAAAAAAAAAAAAAAAAAAACQO/QwAAAAAAAAAAAAAAAAAAAAAJA/9DAAAAAAAAAAAAAAAAAAAAAAkEAvbBAMFfwV7AX0gACAGQQJ0IhAgCSAKbCIJQQFrIhFBACARQQBOG2xqIREgACAJIBBsaiESIAAgECAHQQFrIgAgCUEBaiIHIAAgB0gbbGohAEMAAIA+QwAAAAAgDBsiGP0TIRNDAACAPyAYk0MAAAAAQwAAgD5DAAAAPyAMGyAKQQFGGyIYk/0TIRQgGP0TIRUDQCAPIBBJBEAgBSAPaiATIA8gEWr9AAQA/eYBIBQgDyASav0ABAD95gH95AEgFSAAIA9q/QAEAP3mAf3kAf0LBAAgD0EQaiEPDAELCyAFQQRrIAUqAgA4AgAgBSAGQQJ0aiIAIABBBGsqAgA4AgD9DAAAgD4AAIA+AACAPgAAgD79DAAAAAAAAAAAAAAAAAAAAAAgCxshFP0MAACAPgAAgD4AAIA+AACAPv0MAAAAPwAAAD8AAAA/AAAAPyALGyEVIA39EyEWA0AgDiAIQQJ0SQRAIAUgDkEBdGoiAP0ABAAhFyAEIA5qIAEgDmr9AAQAIBQgAEEEa/0ABAAgAP0ABAz9DQABAgMICQoLEBESExgZGhv95gH9DAAAAD8AAAA/AAAAPwAAAD8gFyAA/QAEECIT/Q0AAQIDCAkKCxAREhMYGRob/eYB/eQBIBUgFyAT/Q0EBQYHDA0ODxQVFhccHR4f/eYB/eQB/eUBIhMgFv3lAf0MAAAAAAAAAAAAAAAAAAAAAP3rASATIBb95AH9DAAAAAAAAAAAAAAAAAAAAAD96gH95AEgAiAOav0ABAAgAyAOav0ABAD9Rf1O/QsEACAOQRBqIQ4MAQsLC8cDAgZ/BHsgBUECdCEKA0AgBiALSgRAIAAgCiALQQFrIglBACAJQQBOG2xqIQ0gACAKIAtsaiEMIAAgCiAGQQFrIgkgC0EBaiIOIAkgDkgbbGohDkEAIQkDQCAJIApJBEAgAyAJaiAJIA1q/QAEACIPIAkgDmr9AAQAIhD96gEgCSAMav0ABAAiEf3qAf0LBAAgBCAJaiAPIBD96wEgEf3rAf0LBAAgCUEQaiEJDAELCyADQQRrIAMqAgA4AgAgBUECdCIJIANqIgwgDEEEayoCADgCACAEQQRrIAQqAgA4AgAgBCAJaiIJIAlBBGsqAgA4AgBBACEJA0AgCSAKSQRAIAQgCWoiDEEEa/0ABAAgDP0ABAT96wEgDP0ABAD96wEiECADIAlqIgxBBGv9AAQAIAz9AAQE/eoBIAz9AAQA/eoBIhH95QEiDyAH/RP9RCESIAogC2wiDCABaiAJaiARIAj9EyAP/eYBIg/95QH9DAAAgD8AAIA/AACAPwAAgD8gEv1S/QsEACACIAxqIAlqIBAgD/3kAf0MAACAvwAAgL8AAIC/AACAvyAS/VL9CwQAIAlBEGohCQwBCwsgC0EBaiELDAELCwvZBQIQewF/IAf9CQIAIQsgB0EEav0JAgAhDCAHQQhq/QkCACEKIAdBDGr9CQIAIQ0gB0EQav0JAgAhDiAHQRRq/QkCACEPIAdBGGr9CQIAIRAgB0Ecav0JAgAhCSAGQQJ0IQYDQCAGIBlLBEAgASAZav0ABAAgCv3lASESIAMgGWogCCAAIBlBAXZq/V0DAP2pAf37ASAL/eYBIAz95AEiEyANIAIgGWr9AAQAIAr95QEiFP3mAf3kAf0MAAAAAAAAAAAAAAAAAAAAAP3rASAJ/eoBIhX9+AEiFv0bAUECdGogCCAW/RsAQQJ0av1dAwD9VwMAASIXIAggFv0bA0ECdGogCCAW/RsCQQJ0av1dAwD9VwMAASIR/Q0AAQIDCAkKCxAREhMYGRobIhggFyAR/Q0EBQYHDA0ODxQVFhccHR4fIBj95QEgFSAW/foB/eUB/eYB/eQB/QsEACAEIBlqIAggEyAOIBL95gEgDyAU/eYB/eQB/eQB/QwAAAAAAAAAAAAAAAAAAAAA/esBIAn96gEiEf34ASIU/RsBQQJ0aiAIIBT9GwBBAnRq/V0DAP1XAwABIhUgCCAU/RsDQQJ0aiAIIBT9GwJBAnRq/V0DAP1XAwABIhb9DQABAgMICQoLEBESExgZGhsiFyAVIBb9DQQFBgcMDQ4PFBUWFxwdHh8gF/3lASARIBT9+gH95QH95gH95AH9CwQAIAUgGWogCCATIBAgEv3mAf3kAf0MAAAAAAAAAAAAAAAAAAAAAP3rASAJ/eoBIhH9+AEiEv0bAUECdGogCCAS/RsAQQJ0av1dAwD9VwMAASITIAggEv0bA0ECdGogCCAS/RsCQQJ0av1dAwD9VwMAASIU/Q0AAQIDCAkKCxAREhMYGRobIhUgEyAU/Q0EBQYHDA0ODxQVFhccHR4fIBX95QEgESAS/foB/eUB/eYB/eQB/QsEACAZQRBqIRkMAQsLC/UEAgx/BXsgCEECdCESIAVBEGoiFSAGQQJ0IhZBD2pBcHFBQGsiBWoiEyAFaiEXIAUgF2ohFCABIAIgAyAVIBMgCCAJIA8gEBAGA0AgDSAYSgRAQQAhBQNAIAUgCUgEQCAAIAUgEmwiESABaiACIBFqIAMgEWogBCARaiAVIAYgByAIIAUgCiALIAwgDhAFIAVBAWohBQwBCwtBACERA0AgByARSgRAIAQgEiAJQQFrIgUgCkEBRgR9IBGyBSAMBH0gEbJDAAAAP5QFIBGyQwAAAL+SQwAAAD+UCwsiD478ACIZQQAgGUEAThsiGiAFIBpIG2xqIAQgEiAFIBlBAWoiGkEAIBpBAE4bIhogBSAaSBtsaiAPIBmykyAXIBMgCEMAAAAAQwAAgD4gCxtDAAAAP0MAAIA+IAsbQQIQACAAIBEgFmxqIRogEiARIAptbCIFIAJqIRkgAyAFaiEbQQAhBQNAIAUgEkkEQCAaIAVBAXQiHGr9AAQAIR8gFCAcaiAfIBMgHGr9AAQA/eQBIAUgGWr9AAQAIh0gHf0NAAECAwABAgMEBQYHBAUGByIg/esBIAUgG2r9AAQAIh4gHv0NAAECAwABAgMEBQYHBAUGByIh/eoBIB8gICAh/UX9Uv0LBAAgHEEQaiIcIBpq/QAEACEfIBQgHGogHyATIBxq/QAEAP3kASAdIB39DQgJCgsICQoLDA0ODwwNDg8iHf3rASAeIB79DQgJCgsICQoLDA0ODwwNDg8iHv3qASAfIB0gHv1F/VL9CwQAIAVBEGohBQwBCwsgGiAUIBb8CgAAIBFBAWohEQwBCwsgGEEBaiEYDAELCwteAQF/IAVBAnQhBQNAIAUgBksEQCAEIAZqIAEgBmr9AAQAIAIgBmr9AAQAIAAgBkEBdmr9XQMA/akB/fsBIAMgBmr9AAQA/eUB/eYB/eQB/QsEACAGQRBqIQYMAQsLC3ICAX8De0EA/QkCACECQQT9CQIAIQNBCP0JAgAhBANAIAAgAUoEQCABQYCIDGogAiABQYAIav0ABAD95gEgAyABQYCIAWr9AAQA/eYB/eQBIAQgAUGAiAJq/QAEAP3mAf3kAf0LBAAgAUEQaiEBDAELCwvnBQIBfwZ7QQAqAgAkAEEE/QkCACQBQQj9CQIAJAJBDP0JAgAkA0EQ/QkCACQEQRT9CQIAJAVBGCoCAEMAADRDYAR/QRwqAgBDAAA0Q2AFQQALJAZBJP0JAgAkB0Eo/QkCACQIQSz9CQIAJAlBNCoCAEMAAAAAXgR/QQEFQTgqAgBDAAAAAF4LJApBPP0JAgAhBANAIAAgAUoEQAJAIAT9DAAAgD8AAIA/AACAPwAAgD8gAUGAiAZq/QAEAP3lAf3mASIF/Qxy+X8/cvl/P3L5fz9y+X8//UMiAiAF/QwAAAAAAAAAAAAAAAAAAAAA/UT9TiID/VNFBEAgAUGAiAxqIAIgAUGAiANq/QAEAP1O/QsEACABQYCIDWogAiABQYCIBGr9AAQA/U79CwQAIAFBgIgOaiACIAFBgIgFav0ABAD9Tv0LBAAgAUGAiA9q/QwAAAAAAAAAAAAAAAAAAAAA/QsEAAwBCyABQYCIDGogAv0MAACAPwAAgD8AAIA/AACAP/0MAACAPwAAgD8AAIA/AACAPyAF/eUB/ecBIgYgAUGACGr9AAQAIAUgAUGAiAdq/QAEAP3mAf3lAf3mAf0MAAAAAAAAAAAAAAAAAAAAAP3rASIHIwcgAyAHIAYgAUGAiAFq/QAEACAFIAFBgIgIav0ABAD95gH95QH95gH9DAAAAAAAAAAAAAAAAAAAAAD96wEiByAGIAFBgIgCav0ABAAgBSABQYCICWr9AAQA/eYB/eUB/eYB/QwAAAAAAAAAAAAAAAAAAAAA/esBIgUgAUGAiApq/QAEABAB/U4iBv3mAf3kASABQYCIA2r9AAQAIAP9Uv1O/QsEACABQYCIDWogAiAHIwggBv3mAf3kASABQYCIBGr9AAQAIAP9Uv1O/QsEACABQYCIDmogAiAFIwkgBv3mAf3kASABQYCIBWr9AAQAIAP9Uv1O/QsEACABQYCID2ogBv0LBAALIAFBEGohAQwBCwsLtAECAX8CewNAIAAgAUoEQCABQYCIDGogAUGAiARq/QAEACIDIAFBgAhq/QAEACICIAFBgIgBav0ABAAgA/3lAf3mAf3kAf0LBAAgAUGAiA1qIAFBgIgFav0ABAAiAyACIAFBgIgCav0ABAAgA/3lAf3mAf3kAf0LBAAgAUGAiA5qIAFBgIgGav0ABAAiAyACIAFBgIgDav0ABAAgA/3lAf3mAf3kAf0LBAAgAUEQaiEBDAELCwukAgIBfwR7QQAqAgAkAEEE/QkCACQBQQj9CQIAJAJBDP0JAgAkA0EQ/QkCACQEQRT9CQIAJAVBGCoCAEMAADRDYAR/QRwqAgBDAAA0Q2AFQQALJAZBJP0JAgAkB0Eo/QkCACQIQSz9CQIAJAlBNCoCAEMAAAAAXgR/QQEFQTgqAgBDAAAAAF4LJAoDQCAAIAFKBEAgAUGACGr9AAQAIgMgAUGAiAFq/QAEACIEIAFBgIgCav0ABAAiBSABQYCIA2r9AAQAEAEhAiABQYCIDGogAyMHIAL95gH95AH9CwQAIAFBgIgNaiAEIwggAv3mAf3kAf0LBAAgAUGAiA5qIAUjCSAC/eYB/eQB/QsEACABQYCID2ogAv0LBAAgAUEQaiEBDAELCwtzAgF/AntBAP0JAgAhAkEE/QkCACEDA0AgACABSgRAIAFBgIgMaiABQYAIav0ABAAgAv3lASAD/eYB/QwAAAAAAAAAAAAAAAAAAAAA/esB/QwAAIA/AACAPwAAgD8AAIA//eoB/QsEACABQRBqIQEMAQsLC64CAgF/BHtBAP0JAgAhA0EE/QkCACEEQQj9CQIAIQUDQCAAIAFKBEAgAUGAiAxqIAFBgIgDav0ABAAgAyABQYCIBGr9AAQA/eYB/eUBIAQgAUGAiAVq/QAEAP3mAf3lASICIAFBgAhq/QAEACADIAFBgIgBav0ABAD95gH95QEgBCABQYCIAmr9AAQA/eYB/eUB/eUBIAIgAUGAiAZq/QAEACAFIAL95gH96gH9DAAAAMAAAADAAAAAwAAAAMAgAv3mAf3rAf3lAf3nAf0MAAAAAAAAAAAAAAAAAAAAAP3rAf0MAACAPwAAgD8AAIA/AACAP/3qAf0MAACAPwAAgD8AAIA/AACAPyAC/Qy9N4Y1vTeGNb03hjW9N4Y1/UT9Uv0LBAAgAUEQaiEBDAELCwvpAgIBfwh7/Qw1iVAqNYlQKjWJUCo1iVAqJAv9DKcaETynGhE8pxoRPKcaETwkDP0MaS/5QGkv+UBpL/lAaS/5QCQN/QzLPQ0+yz0NPss9DT7LPQ0+JA5BAP0JAgAhAkEE/QkCACED/QwAAIA/AACAPwAAgD8AAIA/QQj9CQIA/ecBIQQDQCAAIAFKBEAgAUGACGr9AAQAIAFBgIgBav0ABAAgAUGAiAJq/QAEABACIAFBgIgMaiMPIAFBgIgDav0ABAD95QEiCCABQYCIBWr9AAQAIgn95gEjECABQYCIBGr9AAQA/eUBIgUgAUGAiAZq/QAEACIG/eYB/eQBIAT95gEiByAH/eYBIAggBv3mASAFIAn95gH95QEiBSAF/eYB/eQB/eMBIAL95QEgA/3mAf0MAAAAAAAAAAAAAAAAAAAAAP3rAf0MAACAPwAAgD8AAIA/AACAP/3qAf0LBAAgAUEQaiEBDAELCwunAgIBfwJ7/Qw1iVAqNYlQKjWJUCo1iVAqJAv9DKcaETynGhE8pxoRPKcaETwkDP0MaS/5QGkv+UBpL/lAaS/5QCQN/QzLPQ0+yz0NPss9DT7LPQ0+JA4DQCAAIAFKBEAgAUGACGr9AAQAIAFBgIgBav0ABAAgAUGAiAJq/QAEABACIw8jD/3mASMQIxD95gH95AEiA/0MzLyMK8y8jCvMvIwrzLyMK/1EIQIgAUGAiAxqIw/9CwQAIAFBgIgNaiMQ/QsEACABQYCIDmojD/0MAACAPwAAgD8AAIA/AACAPyAD/eMB/ecBIgP95gH9DAAAgD8AAIA/AACAPwAAgD8gAv1S/QsEACABQYCID2ojECAD/eYBIAL9Tv0LBAAgAUEQaiEBDAELCwt8AgF/AXsDQCAAIAFKBEAgAUGAiAxqIAFBgAhq/QAEACICIAFBgIgBav0ABAD9DAAAgD8AAIA/AACAPwAAgD8gAv3lAf3mAf3kAf0MAACAPwAAgD8AAIA/AACAPyABQYCIAmr9AAQA/eUB/eYB/QsEACABQRBqIQEMAQsLC6sDAwh/AXsCfSADQQJ0IQcgAiAFQQF0QQFqIgpBBGpBAnRBcHFqIAVBBGpBAnRBcHFqIQggBUECdCELA0AgBCAJSgRAIAhBACAH/AsAQQAhAwNAIAMgCkgEQCAAIAcgBEEBayIGIAMgCWogBWsiDEEAIAxBAE4bIgwgBiAMSBtsaiEMIAIgA0ECdGr9CQIAIQ5BACEGA0AgBiAHSQRAIAYgCGoiDSAN/QAEACAOIAYgDGr9AAQA/eYB/eQB/QsEACAGQRBqIQYMAQsLIANBAWohAwwBCwsgCCoCACEPIAcgCGpBBGsqAgAhEEEBIQMDQCADIAVMBEAgCCADQQJ0IgZrIA84AgAgByAIakEEayAGaiAQOAIAIANBAWohAwwBCwsgASAHIAlsaiEMQQAhAwNAIAMgB0kEQP0MAAAAAAAAAAAAAAAAAAAAACEOQQAhBgNAIAYgCkgEQCAOIAZBAnQiDSACav0JAgAgAyAIaiALayANav0ABAD95gH95AEhDiAGQQFqIQYMAQsLIAMgDGogDv0LBAAgA0EQaiEDDAELCyAJQQFqIQkMAQsLC6sCAgh/AXwgA0ECdCEJIAMgBWpBAWsgBW0hCwNAIAQgCEoEQCAEIAUgCGoiBiAEIAZIGyEKIAIgACAIIAlsaiAJ/AoAACAIQQFqIQcDQCAHIApIBEAgACAHIAlsaiENQQAhBgNAIAYgCUkEQCACIAZqIgwgDP0ABAAgBiANav0ABAD95AH9CwQAIAZBEGohBgwBCwsgB0EBaiEHDAELC0EAIQYDQCAGIAtIBEAgAyAGQQFqIAVsIgcgAyAHSBshDEQAAAAAAAAAACEOIAUgBmwhBwNAIAcgDEgEQCAOIAIgB0ECdGoqAgC7oCEOIAdBAWohBwwBCwsgASAOIAogCGsgDCAFIAZsa2y3o7Y4AgAgAUEEaiEBIAZBAWohBgwBCwsgBSAIaiEIDAELCwunAwIFfwJ8IAQiBSACQQN0aiIIIAJBAWpBA3RqIQlBfyECA0AgASAHSgRAIAAgB0ECdGoqAgC7IgogA2ZFBEAgCiAKoiAHtyIKIAqioCELRAAAAAAAAPD/IQoDQCACQQBOBEAgCyACQQN0IgQgBWorAwChIAcgCSACQQJ0aigCAGu3RAAAAAAAAABAoqMiCiAEIAhqKwMAZEUEQCACQQFrIQJEAAAAAAAA8P8hCgwCCwsLIAkgAkEBaiICQQJ0aiAHNgIAIAJBA3QiBCAFaiALOQMAIAQgCGogCjkDAAsgB0EBaiEHDAELCyACQQBIBEADQCABIAZKBEAgACAGQQJ0aiADtjgCACAGQQFqIQYMAQsLDwsgCCACQQFqQQN0akQAAAAAAADwfzkDACADIAOiIQpBACECA0AgASAGSgRAA0AgCCACQQFqIgRBA3RqKwMAIAa3YwRAIAQhAgwBCwsgACAGQQJ0aiAGtyILIAuiIAsgC6AgCSACQQJ0aigCALeioSAFIAJBA3RqKwMAoCILnyADIAogC2QbtjgCACAGQQFqIQYMAQsLC5oFBAt/AX0CfAJ7IAVBAnQiEUEfakFwcSIIIAJqIQ4gAiAIQQF0aiEJIAIgCEEDbGohCEQAAAAAAADwPyAHt6MhFQNAIAUgDUoEQCANQQJ0IgsgAmogA0ECayIKIANBAWu3IA23RAAAAAAAAOA/oCAVokQAAAAAAADgv6BEAAAAAAAAAAClpCIUnPwCIgcgByAKShsiB0EAIAdBAE4bIgdBAnQ2AgAgCyAOaiAUIAe3obZDAAAAACADQQFKGzgCACANQQFqIQ0MAQsLIANBAnQhDSAAIQMDQCAFIBJKBEAgAyASQQJ0IgcgAmooAgBqIgAqAgAhEyAHIAlqIBMgByAOaioCACAAKgIEIBOTlJI4AgAgEkEBaiESDAELCyADIA1BASAEQQFrIgAgAEEBShtsaiEKA0AgBSAMSgRAIAogDEECdCIHIAJqKAIAaiIAKgIAIRMgByAIaiATIAcgDmoqAgAgACoCBCATk5SSOAIAIAxBAWohDAwBCwsDQCAGIA9KBEAgBEEBa7cgD7dEAAAAAAAA4D+gIBWiRAAAAAAAAOC/oEQAAAAAAAAAAKWkIhSc/AIhDANAIAwgEEoEQCAJIAghCSADIA0gBEEBayIIIBBBAmoiByAHIAhKG2xqIQshCEEAIQADQCAAIAVIBEAgCyAAQQJ0IgogAmooAgBqIgcqAgAhEyAIIApqIBMgCiAOaioCACAHKgIEIBOTlJI4AgAgAEEBaiEADAELCyAQQQFqIRAMAQsLIBQgDLehtv0TIRYgASAPIBFsaiEHQQAhAANAIAAgEUkEQCAAIAdqIAAgCWr9AAQAIhcgFiAAIAhq/QAEACAX/eUB/eYB/eQB/QsEACAAQRBqIQAMAQsLIA9BAWohDwwBCwsLtAMBBX8gA0ECdCEIIAMgBGwhBwNAIAYgB0gEQCABIAZBAnRqQwAAAAAgAyAGSgR9Q4CWGEsFIAEgBiADa0ECdGoqAgBDAACAP5ILIAAgBmotAAAbOAIAIAZBAWohBgwBCwsgBEECayEHA0AgB0EATgRAIAEgByAIbGohCUEAIQADQCAAQRBqIgYgCE0EQCAAIAlqIgogCv0ABAAgCCAJaiAAav0ABAD9DAAAgD8AAIA/AACAPwAAgD/95AH96gH9CwQAIAYhAAwBCwsDQCAAIAhJBEAgACAJaiIGIAYqAgAgCCAJaiAAaioCAEMAAIA/kpY4AgAgAEEEaiEADAELCyAHQQFrIQcMAQsLQQAhBgNAIAQgBkoEQCABIAYgCGxqIQdBACEAA0AgACADSARAIAcgAEECdGoqAgBDAAAAAFsEQCAAQQFqIQAMAgsgAEEBa0EAIABBAEobIQkDQCAAIANIBH8gByAAQQJ0aioCAEMAAAAAXAVBAAsEQCAAQQFqIQAMAQsLIAcgCUECdGogAEEBaiADIAAgA0gbIAlrIAMgBSACEBUMAQsLIAZBAWohBgwBCwsLiwQCAnwHfyADQQJ0IQogAkEAIANBA3T8CwAgBEEBayELA0AgCCAFIAsgBSALSBtMBEAgAiAAIAggCmxqQQAgAxADIAhBAWohCAwBCwsDQCAEIAlKBEAgBEEBayIIIAUgCWoiCyAIIAtIGyAJIAVrIghBACAIQQBOG2tBAWohCyABIAkgCmxqIQxEAAAAAAAAAAAhBkEAIQgDQCAIIAUgAyADIAVKG0gEQCAGIAIgCEEDdGorAwCgIQYgCEEBaiEIDAELC0EAIQgDQCADIAhKIAUgCE5xBEAgBSAIaiINIANIBEAgBiACIA1BA3RqKwMAoCEGCyAMIAhBAnRqIAYgCyADQQFrIg0gBSAIaiIOIA0gDkgbQQFqbLejtjgCACAIQQFqIQgMAQsLRAAAAAAAAPA/IAsgBUEBdEEBamy3oyEHA0AgBSAIaiINIANIBEAgDCAIQQJ0aiAGIAIgDUEDdGorAwAgAiAIIAVrQQFrQQN0aisDAKGgIgYgB6K2OAIAIAhBAWohCAwBCwsDQCADIAhKBEAgDCAIQQJ0aiAGIAIgCCAFa0EBa0EDdGorAwChIgYgCyADIAhrIAVqbLejtjgCACAIQQFqIQgMAQsLIAIgACAFIAlqQQFqIgggCmxqQQAgBCAIShsgACAJIAVrIgggCmxqQQAgCEEAThsgAxADIAlBAWohCQwBCwsL";

// src/core/kernels/module.ts
var PAGE = 65536;
var PLANES = 524288;
var loaded;
function kernels() {
  if (loaded) return loaded;
  const bytes = Uint8Array.from(atob(WASM), (c) => c.charCodeAt(0));
  loaded = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports;
  return loaded;
}
function memoryOf(bytes) {
  const { memory } = kernels();
  const missing = bytes - memory.buffer.byteLength;
  if (missing > 0)
    try {
      memory.grow(Math.ceil(missing / PAGE));
    } catch (cause) {
      throw new RangeError("There is not enough memory for a frame of this size; close other programs, or work on a smaller one.", {
        cause
      });
    }
  return memory.buffer;
}
var PAST = 8;
function places() {
  let end = PLANES;
  const take = (floats) => {
    const at = end;
    end += Math.ceil((floats + PAST) / 4) * 16;
    return at;
  };
  return { take, end: () => end };
}

// src/core/kernels/rows.ts
function rowRoom(width2, rows, cw, planes, table) {
  const { take, end } = places();
  const YAt = take(width2 / 2);
  const rowsAt = Array.from({ length: rows }, () => take(width2 + 1));
  const blendAt = take(cw + 4) + 16;
  const toldAt = take(8);
  const tableAt = take(table?.length ?? 0);
  const planesAt = planes.map((p2) => take(p2.length));
  const buffer = memoryOf(end());
  const floats = (at, n2) => new Float32Array(buffer, at, n2);
  planes.forEach((p2, k2) => {
    floats(planesAt[k2], p2.length).set(p2);
  });
  if (table) floats(tableAt, table.length).set(table);
  return {
    Y: new Uint16Array(buffer, YAt, width2),
    YAt,
    rows: rowsAt.map((at) => floats(at, width2)),
    rowsAt,
    planesAt,
    blendAt,
    told: floats(toldAt, 8),
    toldAt,
    tableAt
  };
}
var onRows = (kernel, ...numbers) => kernels()[kernel](...numbers);
function backToRecorded(fine, width2, height2, recorded, cw, ch, { rows, cositedAcross, cositedDown, rounds, grain, even, spare }) {
  const { take, end } = places();
  const fineAt = take(fine.length);
  const [recordedAt, least, most, missing] = [0, 1, 2, 3].map(() => take(cw * ch));
  const room = take(4 * (width2 + 32));
  const buffer = memoryOf(end());
  const plane = new Float32Array(buffer, fineAt, fine.length);
  plane.set(fine);
  new Float32Array(buffer, recordedAt, recorded.length).set(recorded);
  const numbers = [rows, Number(cositedAcross), Number(cositedDown), rounds, grain, even, spare];
  kernels().backToRecorded(fineAt, recordedAt, least, most, missing, room, width2, height2, cw, ch, ...numbers);
  fine.set(plane);
}

// src/core/image/plane.ts
var fresh = (length) => new Float32Array(length);
var MAX_SIDE = 16384;
var MAX_PIXELS = 64e6;
function checkSize(width2, height2) {
  if (!Number.isInteger(width2) || !Number.isInteger(height2) || width2 < 1 || height2 < 1)
    throw new RangeError(`Frame size ${width2}\xD7${height2} is not a whole, positive size.`);
  if (width2 > MAX_SIDE || height2 > MAX_SIDE || width2 * height2 > MAX_PIXELS)
    throw new RangeError(
      `Frame of ${width2}\xD7${height2} is larger than ${MAX_SIDE} px a side or ${MAX_PIXELS / 1e6} megapixels; scale it down first.`
    );
}
function makePicture(width2, height2) {
  checkSize(width2, height2);
  const n2 = width2 * height2;
  return { width: width2, height: height2, r: new Float32Array(n2), g: new Float32Array(n2), b: new Float32Array(n2) };
}
function stopNotFinite(data) {
  let stopped = 0;
  for (let i = 0; i < data.length; i++) {
    const v = data[i];
    if (v - v !== 0) {
      data[i] = v > 0 ? 65504 : v < 0 ? -65504 : 0;
      stopped++;
    }
  }
  return stopped;
}
function clipRegion(region, width2, height2) {
  const x = Math.min(Math.max(0, Math.floor(region.x)), width2);
  const y = Math.min(Math.max(0, Math.floor(region.y)), height2);
  const right = Math.min(width2, Math.ceil(region.x + region.width));
  const bottom = Math.min(height2, Math.ceil(region.y + region.height));
  return { x, y, width: Math.max(0, right - x), height: Math.max(0, bottom - y) };
}
function cropChannel(source, sourceWidth, region) {
  const out = new Float32Array(region.width * region.height);
  for (let y = 0; y < region.height; y++) {
    const from = (region.y + y) * sourceWidth + region.x;
    out.set(source.subarray(from, from + region.width), y * region.width);
  }
  return out;
}
function cropPicture(source, region) {
  return {
    width: region.width,
    height: region.height,
    r: cropChannel(source.r, source.width, region),
    g: cropChannel(source.g, source.width, region),
    b: cropChannel(source.b, source.width, region),
    ...source.a ? { a: cropChannel(source.a, source.width, region) } : {}
  };
}
var channels = (p2) => [p2.r, p2.g, p2.b, ...p2.a ? [p2.a] : []];
var isPicture = (s2) => s2.width !== void 0;

// src/core/image/raw-frame.ts
var SITINGS = ["left", "center", "topleft"];
function planeSizes(width2, height2, layout) {
  const full = { width: width2, height: height2 };
  const extra = layout.alpha ? [full] : [];
  if (layout.kind !== "ycbcr") return [full, full, full, ...extra];
  const chroma = {
    width: layout.subsampling === "444" ? width2 : width2 + 1 >> 1,
    height: layout.subsampling === "420" ? height2 + 1 >> 1 : height2
  };
  return [full, chroma, chroma, ...extra];
}
function decodeRawFrame(raw2, reading) {
  checkSize(raw2.width, raw2.height);
  planeSizes(raw2.width, raw2.height, raw2.layout).forEach((s2, i) => {
    if (raw2.planes[i]?.length !== s2.width * s2.height)
      throw new RangeError(`Plane ${i} of the frame holds ${raw2.planes[i]?.length ?? 0} samples; ${s2.width * s2.height} are needed.`);
  });
  const picture = raw2.layout.kind === "ycbcr" ? decodeYcbcr(raw2, reading) : raw2.layout.kind === "rgb" ? decodeRgb(raw2, reading) : decodeHalf(raw2);
  return raw2.layout.alpha ? { ...picture, a: decodeAlpha(raw2) } : picture;
}
function decodeAlpha(raw2) {
  const source = raw2.planes[3];
  const a2 = new Float32Array(source.length);
  if (raw2.layout.kind === "half") for (let i = 0; i < a2.length; i++) a2[i] = halfToFloat(source[i]);
  else {
    const unit = 1 / (2 ** raw2.layout.bits - 1);
    for (let i = 0; i < a2.length; i++) a2[i] = source[i] * unit;
  }
  stopNotFinite(a2);
  return a2;
}
function decodeRgb(raw2, reading) {
  const { bits } = raw2.layout;
  const table = decodeTable(reading.transfer, bits);
  const top = table.length - 1;
  const out = makePicture(raw2.width, raw2.height);
  [out.r, out.g, out.b].forEach((channel, k2) => {
    const source = raw2.planes[k2];
    for (let i = 0; i < source.length; i++) {
      const code = source[i];
      channel[i] = table[code > top ? top : code];
    }
  });
  return out;
}
var halfTable;
function decodeHalf(raw2) {
  halfTable ??= Float32Array.from({ length: 65536 }, (_, i) => halfToFloat(i));
  const out = makePicture(raw2.width, raw2.height);
  for (const [k2, channel] of [out.r, out.g, out.b].entries()) {
    const source = raw2.planes[k2];
    for (let i = 0; i < source.length; i++) channel[i] = halfTable[source[i]];
    stopNotFinite(channel);
  }
  return out;
}
function chromaRow(room, plane, row, cw, ch, y, subsampling, siting) {
  const cy = subsampling === "420" ? siting === "topleft" ? y / 2 : (y - 0.5) / 2 : y;
  const y0 = Math.floor(cy);
  const at = (k2) => room.planesAt[plane] + 4 * cw * Math.min(ch - 1, Math.max(0, k2));
  const centred = siting === "center";
  const step = subsampling === "444" ? 1 : 2;
  onRows(
    "chromaRow",
    at(y0),
    at(y0 + 1),
    cy - y0,
    room.blendAt,
    room.rowsAt[row],
    cw,
    centred ? 0.25 : 0,
    centred ? 0.25 : 0.5,
    step
  );
}
function decodeYcbcr(raw2, reading) {
  const { width: width2, height: height2 } = raw2;
  const layout = raw2.layout;
  const [, { width: cw, height: ch }] = planeSizes(width2, height2, layout);
  const chroma = [1, 2].map((k2) => new Float32Array(raw2.planes[k2]));
  return decodeRows(raw2, reading, cw, chroma, (room, y) => {
    for (const k2 of [0, 1]) chromaRow(room, k2, k2, cw, ch, y, layout.subsampling, reading.siting);
  });
}
function decodeRows(raw2, reading, cw, planes, chroma) {
  const { width: width2, height: height2 } = raw2;
  const layout = raw2.layout;
  const s2 = codeScale(reading.range, layout.bits);
  const f2 = rgbFactors(reading.matrix);
  const table = fineDecodeTable(reading.transfer);
  const room = rowRoom(width2, 5, cw, planes, table);
  const unit = 1 / FINE_STEP;
  const chromaUnit = s2.cScale * unit;
  room.told.set([
    s2.yScale * unit,
    -(s2.yOffset * s2.yScale + FINE_LOW) * unit,
    s2.cOffset,
    f2.rCr * chromaUnit,
    f2.gCb * chromaUnit,
    f2.gCr * chromaUnit,
    f2.bCb * chromaUnit,
    table.length - 2
  ]);
  const Y = raw2.planes[0];
  const out = makePicture(width2, height2);
  const light = [out.r, out.g, out.b];
  const [cb, cr, ...to] = room.rowsAt;
  for (let y = 0; y < height2; y++) {
    const at = y * width2;
    room.Y.set(Y.subarray(at, at + width2));
    chroma(room, y);
    onRows("decodeRow", room.YAt, cb, cr, ...to, width2, room.toldAt, room.tableAt);
    for (let k2 = 0; k2 < 3; k2++) light[k2].set(room.rows[2 + k2], at);
  }
  return out;
}

// src/core/kernels/planes.ts
function onPlane(kernel, source, out, room, ...numbers) {
  const { take, end } = places();
  const from = take(source.byteLength / 4);
  const to = take(out.length);
  const work = take(typeof room === "number" ? room / 4 : room.length);
  const buffer = memoryOf(end());
  if (source instanceof Uint8Array) new Uint8Array(buffer, from, source.length).set(source);
  else new Float32Array(buffer, from, source.length).set(source);
  if (typeof room !== "number") new Float32Array(buffer, work, room.length).set(room);
  kernels()[kernel](from, to, work, ...numbers);
  out.set(new Float32Array(buffer, to, out.length));
  return out;
}

// src/core/image/box.ts
function boxMean(source, width2, height2, radius, allocate = fresh) {
  const r = Math.min(radius, Math.max(width2, height2) - 1);
  const out = allocate(source.length);
  if (r < 1) {
    out.set(source);
    return out;
  }
  return onPlane("boxMean", source, out, 8 * width2, width2, height2, r);
}

// src/core/image/components.ts
function labelComponents(mask, width2, height2) {
  const labels = new Int32Array(width2 * height2);
  let starts = new Int32Array(1024);
  let ends = new Int32Array(1024);
  let parents = new Int32Array(1024);
  let count = 0;
  const rootOf = (k2) => {
    while (parents[k2] !== k2) {
      const up = parents[parents[k2]];
      parents[k2] = up;
      k2 = up;
    }
    return k2;
  };
  let above = 0;
  for (let y = 0; y < height2; y++) {
    const here = count;
    const end = (y + 1) * width2;
    let over = above;
    for (let i = y * width2; i < end; i++) {
      if (!mask[i]) continue;
      const start = i;
      while (i < end && mask[i]) i++;
      if (count === starts.length) [starts, ends, parents] = [twice(starts), twice(ends), twice(parents)];
      starts[count] = start;
      ends[count] = i;
      parents[count] = count;
      while (over < here && ends[over] <= start - width2) over++;
      for (let k2 = over; k2 < here && starts[k2] < i - width2; k2++) {
        const a2 = rootOf(k2);
        const b2 = rootOf(count);
        if (a2 < b2) parents[b2] = a2;
        else parents[a2] = b2;
      }
      count++;
    }
    above = here;
  }
  const areas = [0];
  const atBorder = [false];
  const numbers = new Int32Array(count);
  for (let k2 = 0; k2 < count; k2++) {
    const root = rootOf(k2);
    if (root === k2) {
      numbers[k2] = areas.length;
      areas.push(0);
      atBorder.push(false);
    }
    const label = numbers[root];
    const [start, end] = [starts[k2], ends[k2]];
    labels.fill(label, start, end);
    areas[label] += end - start;
    const y = Math.floor(start / width2);
    if (y === 0 || y === height2 - 1 || start === y * width2 || end === (y + 1) * width2) atBorder[label] = true;
  }
  return { labels, areas, atBorder };
}
function twice(list) {
  const longer = new Int32Array(2 * list.length);
  longer.set(list);
  return longer;
}

// src/core/image/distance.ts
var FAR = 1e7;
function distanceTo(inside, width2, height2, limit = FAR) {
  return onPlane("distance", inside, new Float32Array(width2 * height2), 24 * (width2 + 2), width2, height2, limit);
}

// src/core/color/hue.ts
function rgbToHsv({ r, g, b: b2 }) {
  const max = Math.max(r, g, b2);
  const min = Math.min(r, g, b2);
  const d = max - min;
  if (d === 0) return { h: 0, s: 0, v: max };
  let h = max === r ? (g - b2) / d : max === g ? 2 + (b2 - r) / d : 4 + (r - g) / d;
  if (h < 0) h += 6;
  return { h: h * 60, s: max > 0 ? d / max : 0, v: max };
}
var luminance = ({ r, g, b: b2 }) => 0.2126 * r + 0.7152 * g + 0.0722 * b2;

// src/core/kernels/pointwise.ts
var SLOTS = 1024;
var BLOCK = 4096;
var STRIDE = 4 * BLOCK;
var FIRST_OUT = 12;
var held;
function slotViews() {
  const buffer = memoryOf(0);
  if (held?.buffer !== buffer)
    held = {
      buffer,
      parameters: new Float32Array(buffer, 0, SLOTS / 4),
      slots: Array.from({ length: FIRST_OUT + 4 }, (_, k2) => new Float32Array(buffer, SLOTS + k2 * STRIDE, BLOCK))
    };
  return held;
}
function pointwise(kernel, parameters, inputs, outputs) {
  const { slots, parameters: told } = slotViews();
  const run2 = kernels()[kernel];
  const n2 = outputs.find((o) => o !== null)?.length ?? 0;
  told.set(parameters);
  const planes = [];
  const results = [];
  inputs.forEach((operand, k2) => {
    const slot = slots[k2];
    if (typeof operand === "number") slot.fill(operand);
    else planes.push({ slot, plane: operand });
  });
  outputs.forEach((plane, k2) => {
    if (plane) results.push({ slot: slots[FIRST_OUT + k2], plane });
  });
  for (const { plane } of [...planes, ...results])
    if (plane.length !== n2) throw new RangeError(`A plane holds ${plane.length} pixels, another ${n2}.`);
  for (let from = 0; from < n2; from += BLOCK) {
    const to = Math.min(n2, from + BLOCK);
    for (const { slot, plane } of planes) slot.set(plane.subarray(from, to));
    run2(4 * (to - from));
    for (const { slot, plane } of results) plane.set(to - from === BLOCK ? slot : slot.subarray(0, to - from), from);
  }
}

// src/core/image/luma.ts
var [R, G, B] = [luminance({ r: 1, g: 0, b: 0 }), luminance({ r: 0, g: 1, b: 0 }), luminance({ r: 0, g: 0, b: 1 })];
function lumaOf({ width: width2, height: height2, r, g, b: b2 }) {
  const data = new Float32Array(r.length);
  pointwise("weigh", [R, G, B], [r, g, b2], [data]);
  return { width: width2, height: height2, data };
}

// src/core/image/mask.ts
function maskOf(values, is) {
  const mask = new Uint8Array(values.length);
  for (let i = 0; i < mask.length; i++) if (is(values[i], i)) mask[i] = 1;
  return mask;
}

// src/core/image/rank.ts
function valueAt(values, k2) {
  if (!(k2 >= 0 && k2 < values.length)) throw new RangeError(`There is no place ${k2} among ${values.length} values.`);
  let [left, right] = [0, values.length - 1];
  while (left < right) {
    const pivot = values[left + right >> 1];
    let [i, j] = [left, right];
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i > j) break;
      const held2 = values[i];
      values[i++] = values[j];
      values[j--] = held2;
    }
    if (k2 <= j) right = j;
    else if (k2 >= i) left = i;
    else break;
  }
  return values[k2];
}
function valuesWhere(values, mask, stride = 1) {
  const out = new Float32Array(Math.ceil(values.length / stride));
  let n2 = 0;
  for (let i = 0; i < values.length; i += stride) if (mask[i]) out[n2++] = values[i];
  return out.subarray(0, n2);
}
var middleOf = (values, none) => values.length ? valueAt(values, values.length >> 1) : none;

// src/core/screen/primary.ts
var screenPrimary = (c) => c.g >= c.r && c.g >= c.b ? "g" : c.b >= c.r ? "b" : "r";
var MIXED = 0.3;
function weightRange(screen) {
  const primary = screenPrimary(screen);
  const second = Math.max(...otherChannels(primary).map((c) => screen[c]));
  return second > MIXED * screen[primary] ? [-1, 2] : [0, 1];
}
var otherChannels = (p2) => p2 === "r" ? ["g", "b"] : p2 === "g" ? ["r", "b"] : ["r", "g"];
var PRIMARY_NAME = { r: "red", g: "green", b: "blue" };
function excessPlane(picture, primary, weight) {
  const [un, vn] = otherChannels(primary);
  const out = new Float32Array(picture.r.length);
  pointwise("weigh", [1, -weight, weight - 1], [picture[primary], picture[un], picture[vn]], [out]);
  return out;
}

// src/core/key/colour-difference.ts
function excessOf(c, primary, weight) {
  const [u, v] = otherChannels(primary);
  return c[primary] - (weight * c[u] + (1 - weight) * c[v]);
}
function colourDifference(picture, key, allocate = fresh) {
  const base = excessOf(key.screen, key.primary, key.weight);
  if (!(base > 1e-6))
    throw new RangeError("The screen colour does not exceed its other channels; sample the screen again or change the weight.");
  const [un, vn] = otherChannels(key.primary);
  const data = allocate(picture.r.length);
  const { screen, primary, weight } = key;
  pointwise(
    "difference",
    [weight, 1 - weight, 1],
    [picture[primary], picture[un], picture[vn], screen[primary], screen[un], screen[vn], 0],
    [data]
  );
  return { width: picture.width, height: picture.height, data };
}

// src/core/image/fill-in.ts
function fillIn(channels2, weight, width2, height2) {
  if (width2 <= 1 && height2 <= 1) return;
  const w = width2 + 1 >> 1;
  const h = height2 + 1 >> 1;
  const total = new Float32Array(w * h);
  overFours(weight, null, total, width2, height2);
  const coarse = channels2.map((c) => {
    const out = new Float32Array(w * h);
    overFours(c, weight, out, width2, height2);
    for (let o = 0; o < out.length; o++) if (total[o] > 0) out[o] = out[o] / total[o];
    return out;
  });
  for (let o = 0; o < total.length; o++) if (total[o] > 1) total[o] = 1;
  fillIn(coarse, total, w, h);
  channels2.forEach((c, k2) => {
    pushDown(coarse[k2], w, h, c, weight, width2, height2);
  });
}
function overFours(source, weight, out, width2, height2) {
  const w = width2 + 1 >> 1;
  for (let y = 0; y < height2; y++) {
    const to = (y >> 1) * w;
    const row = y * width2;
    for (let x = 0; x < width2; x++) {
      const v = source[row + x];
      const o = to + (x >> 1);
      out[o] = out[o] + (weight ? weight[row + x] * v : v);
    }
  }
}
function pushDown(coarse, w, h, channel, weight, width2, height2) {
  for (let y = 0; y < height2; y++) {
    const cy = Math.min(h - 1, Math.max(0, (y - 0.5) / 2));
    const y0 = Math.floor(cy);
    const fy = cy - y0;
    const top = y0 * w;
    const bottom = Math.min(h - 1, y0 + 1) * w;
    for (let x = 0; x < width2; x++) {
      const i = y * width2 + x;
      const k2 = weight[i];
      if (k2 >= 1) continue;
      const cx = Math.min(w - 1, Math.max(0, (x - 0.5) / 2));
      const x0 = Math.floor(cx);
      const fx = cx - x0;
      const x1 = Math.min(w - 1, x0 + 1);
      const upper = (1 - fx) * coarse[top + x0] + fx * coarse[top + x1];
      const lower = (1 - fx) * coarse[bottom + x0] + fx * coarse[bottom + x1];
      channel[i] = k2 * channel[i] + (1 - k2) * ((1 - fy) * upper + fy * lower);
    }
  }
}
function enlargeChannel(source, w, h, factor, width2, height2, out) {
  onPlane("enlarge", source.subarray(0, w * h), out, 4 * (4 * width2 + 12) + 64, w, h, width2, height2, factor);
}

// src/core/image/resample.ts
function shrinkChannel(source, width2, height2, factor) {
  if (factor === 1) return source;
  const w = Math.ceil(width2 / factor);
  const h = Math.ceil(height2 / factor);
  return onPlane("shrink", source, new Float32Array(w * h), 4 * width2 + 12, width2, height2, factor);
}
function shrinkPicture(source, factor) {
  if (factor === 1) return source;
  const { width: width2, height: height2 } = source;
  const c = (channel) => shrinkChannel(channel, width2, height2, factor);
  return {
    width: Math.ceil(width2 / factor),
    height: Math.ceil(height2 / factor),
    r: c(source.r),
    g: c(source.g),
    b: c(source.b),
    ...source.a ? { a: c(source.a) } : {}
  };
}
function placePicture(source, width2, height2, place, repeatEdge) {
  const factor = Math.max(1, Math.floor(1 / Math.max(place.scaleX, place.scaleY)));
  if (factor > 1) {
    const small = shrinkPicture(source, factor);
    return placePicture(small, width2, height2, { ...place, scaleX: place.scaleX * factor, scaleY: place.scaleY * factor }, repeatEdge);
  }
  const out = makePicture(width2, height2);
  const alpha = source.a || !repeatEdge ? new Float32Array(width2 * height2) : void 0;
  const sw = source.width;
  const sh = source.height;
  const xs = Array.from({ length: width2 }, (_, x) => (x + 0.5 - place.offsetX) / place.scaleX - 0.5);
  for (let y = 0; y < height2; y++) {
    const sy = (y + 0.5 - place.offsetY) / place.scaleY - 0.5;
    const insideY = sy > -0.5 - 1e-6 && sy < sh - 0.5 + 1e-6;
    const y0 = Math.floor(sy);
    const fy = sy - y0;
    const ra = Math.min(sh - 1, Math.max(0, y0)) * sw;
    const rb = Math.min(sh - 1, Math.max(0, y0 + 1)) * sw;
    for (let x = 0; x < width2; x++) {
      const i = y * width2 + x;
      const sx = xs[x];
      const inside = insideY && sx > -0.5 - 1e-6 && sx < sw - 0.5 + 1e-6;
      if (!inside && !repeatEdge) continue;
      const x0 = Math.floor(sx);
      const fx = sx - x0;
      const ca = Math.min(sw - 1, Math.max(0, x0));
      const cb = Math.min(sw - 1, Math.max(0, x0 + 1));
      const wa = (1 - fx) * (1 - fy);
      const wb = fx * (1 - fy);
      const wc = (1 - fx) * fy;
      const wd = fx * fy;
      const at = (c) => c[ra + ca] * wa + c[ra + cb] * wb + c[rb + ca] * wc + c[rb + cb] * wd;
      out.r[i] = at(source.r);
      out.g[i] = at(source.g);
      out.b[i] = at(source.b);
      if (alpha) alpha[i] = source.a ? at(source.a) : 1;
    }
  }
  return alpha ? { ...out, a: alpha } : out;
}

// src/core/image/stroke.ts
function underStroke({ points, radius }, width2, height2, found2) {
  const box = around(points, radius, width2, height2);
  if (box.width <= 0 || box.height <= 0) return;
  const nearest = new Float32Array(box.width * box.height).fill(Number.POSITIVE_INFINITY);
  points.forEach((b2, k2) => {
    const a2 = points[Math.max(0, k2 - 1)];
    const [dx, dy] = [b2.x - a2.x, b2.y - a2.y];
    const square = Math.max(1e-12, dx * dx + dy * dy);
    const piece = around([a2, b2], radius, width2, height2);
    for (let y = piece.y; y < piece.y + piece.height; y++)
      for (let x = piece.x; x < piece.x + piece.width; x++) {
        const [px2, py] = [x + 0.5 - a2.x, y + 0.5 - a2.y];
        const t = Math.min(1, Math.max(0, (px2 * dx + py * dy) / square));
        const i = (y - box.y) * box.width + x - box.x;
        nearest[i] = Math.min(nearest[i], Math.hypot(px2 - t * dx, py - t * dy));
      }
  });
  for (let y = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++) {
      const d = nearest[y * box.width + x];
      if (d < radius) found2((y + box.y) * width2 + x + box.x, d);
    }
}
function around(places2, radius, width2, height2) {
  let [left, top, right, bottom] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const { x: x2, y: y2 } of places2) {
    left = Math.min(left, x2);
    top = Math.min(top, y2);
    right = Math.max(right, x2);
    bottom = Math.max(bottom, y2);
  }
  const x = Math.max(0, Math.floor(left - radius));
  const y = Math.max(0, Math.floor(top - radius));
  return { x, y, width: Math.min(width2, Math.ceil(right + radius) + 1) - x, height: Math.min(height2, Math.ceil(bottom + radius) + 1) - y };
}

// src/core/screen/sample.ts
var median = (values) => {
  const sorted = values.slice().sort();
  const n2 = sorted.length;
  return n2 % 2 ? sorted[(n2 - 1) / 2] : (sorted[n2 / 2 - 1] + sorted[n2 / 2]) / 2;
};
var MAD_TO_SIGMA = 1.4826;
function sampleScreen(picture, boxes, strokes = []) {
  const index = [];
  for (const stroke of strokes) underStroke(stroke, picture.width, picture.height, (i) => index.push(i));
  for (const box of boxes) {
    const r = clipRegion(box, picture.width, picture.height);
    for (let y = r.y; y < r.y + r.height; y++) for (let x = r.x; x < r.x + r.width; x++) index.push(y * picture.width + x);
  }
  if (index.length === 0) throw new RangeError("The sample lies outside the picture; draw it on the screen.");
  const stride = Math.ceil(index.length / 5e5);
  const taken = stride > 1 ? index.filter((_, i) => i % stride === 0) : index;
  const channels2 = [picture.r, picture.g, picture.b].map((c) => Float32Array.from(taken, (i) => c[i]));
  const limits = channels2.map((values) => {
    const middle = median(values);
    const sigma = MAD_TO_SIGMA * median(values.map((v) => Math.abs(v - middle)));
    return { middle, reach: Math.max(3 * sigma, 1e-6) };
  });
  const sum = [0, 0, 0];
  const square = [0, 0, 0];
  let kept = 0;
  for (let i = 0; i < taken.length; i++) {
    if (channels2.some(
      (c, k2) => Math.abs(c[i] - limits[k2].middle) > limits[k2].reach
    ))
      continue;
    kept++;
    channels2.forEach((c, k2) => {
      const d = c[i] - limits[k2].middle;
      sum[k2] = sum[k2] + d;
      square[k2] = square[k2] + d * d;
    });
  }
  const mean = sum.map((s2, k2) => limits[k2].middle + (kept ? s2 / kept : 0));
  const sd = square.map((q, k2) => Math.sqrt(Math.max(0, kept ? q / kept - (sum[k2] / kept) ** 2 : 0)));
  const rgb = (v) => ({ r: v[0], g: v[1], b: v[2] });
  return { colour: rgb(mean), pixels: taken.length, rejected: taken.length - kept, noise: rgb(sd) };
}

// src/core/screen/find.ts
var BINS = 256;
var excess = (p2, u, v, i) => p2[i] - 0.5 * (u[i] + v[i]);
function otsuThreshold(histogram) {
  let total = 0;
  let weighted = 0;
  for (let i = 0; i < histogram.length; i++) {
    total += histogram[i];
    weighted += i * histogram[i];
  }
  let best = 0;
  let bestScore = -1;
  let below = 0;
  let belowWeighted = 0;
  for (let i = 0; i < histogram.length; i++) {
    below += histogram[i];
    belowWeighted += i * histogram[i];
    const above = total - below;
    if (below === 0 || above === 0) continue;
    const gap = belowWeighted / below - (weighted - belowWeighted) / above;
    const score = below * above * gap * gap;
    if (score > bestScore) {
      bestScore = score;
      best = i;
    }
  }
  return best;
}
var binOf = (e, max) => Math.min(BINS - 1, Math.max(0, Math.floor(e / max * BINS)));
function screenThreshold(histogram) {
  let threshold = otsuThreshold(histogram) + 1;
  for (let round = 0; round < 8; round++) {
    let above = 0;
    for (let b2 = threshold; b2 < histogram.length; b2++) above += histogram[b2];
    let median2 = threshold;
    for (let sum = 0; median2 < histogram.length; median2++) {
      sum += histogram[median2];
      if (sum >= above / 2) break;
    }
    const next = Math.max(1, Math.round(median2 / 2));
    if (next === threshold) break;
    threshold = next;
  }
  return threshold;
}
function screenMask(picture, primary) {
  const n2 = picture.width * picture.height;
  const mask = new Uint8Array(n2);
  const [u, v] = otherChannels(primary).map((c) => picture[c]);
  const p2 = picture[primary];
  let max = 0;
  for (let i = 0; i < n2; i++) max = Math.max(max, excess(p2, u, v, i));
  if (max <= 5e-3) return { mask, count: 0 };
  const histogram = new Float64Array(BINS);
  for (let i = 0; i < n2; i++) histogram[binOf(excess(p2, u, v, i), max)]++;
  const threshold = screenThreshold(histogram) / BINS * max;
  for (let i = 0; i < n2; i++) {
    const P = p2[i];
    if (excess(p2, u, v, i) >= threshold && P > 1.33 * u[i] && P > 1.33 * v[i]) mask[i] = 1;
  }
  dropOthers(picture, primary, mask);
  growIntoShade(picture, primary, mask);
  let count = 0;
  for (let i = 0; i < n2; i++) count += mask[i];
  return { mask, count };
}
function findScreen(picture) {
  const { width: width2, height: height2 } = picture;
  const n2 = width2 * height2;
  let primary;
  let mask = new Uint8Array(n2);
  let count = 0;
  for (const p2 of ["g", "b", "r"]) {
    const found2 = screenMask(picture, p2);
    if (found2.count * (p2 === "r" ? 0.25 : 1) > count) {
      count = found2.count;
      mask = found2.mask;
      primary = p2;
    }
  }
  if (!primary || count < 0.02 * n2)
    throw new RangeError("No screen was found: no colour stands out over 2 % of the frame or more. Sample the screen by hand.");
  const box = cleanestBlock(picture, mask, primary);
  const sample = sampleScreen(picture, [box]);
  return { sample, primary: screenPrimary(sample.colour), box, mask, share: count / n2 };
}
var purityAt = (p2, u, v, i) => excess(p2, u, v, i) / Math.max(1e-6, p2[i]);
var PALE = 0.6;
var LEAN = 0.3;
function dropOthers(picture, primary, found2) {
  const [u, v] = otherChannels(primary).map((c) => picture[c]);
  const p2 = picture[primary];
  const lean = (i) => (u[i] - v[i]) / Math.max(1e-6, p2[i]);
  const [purities, leans] = [[], []];
  for (let i = 0; i < found2.length; i += 11)
    if (found2[i]) {
      purities.push(purityAt(p2, u, v, i));
      leans.push(lean(i));
    }
  const least = PALE * middleOf(Float32Array.from(purities), 0);
  const usual = middleOf(Float32Array.from(leans), 0);
  for (let i = 0; i < found2.length; i++) if (found2[i] && (purityAt(p2, u, v, i) < least || Math.abs(lean(i) - usual) > LEAN)) found2[i] = 0;
}
var SHADE = 0.1;
var PURITY = 0.85;
function growIntoShade(picture, primary, found2) {
  const { width: width2, height: height2 } = picture;
  const [u, v] = otherChannels(primary).map((c) => picture[c]);
  const p2 = picture[primary];
  const sampled = [];
  const purities = [];
  for (let i = 0; i < found2.length; i += 11)
    if (found2[i]) {
      sampled.push(excess(p2, u, v, i));
      purities.push(purityAt(p2, u, v, i));
    }
  if (sampled.length === 0) return;
  const least = SHADE * middleOf(Float32Array.from(sampled), 0);
  const purity = PURITY * middleOf(Float32Array.from(purities), 0);
  const shade = (i) => excess(p2, u, v, i) >= least && excess(p2, u, v, i) >= purity * p2[i];
  const stack = [];
  const visit = (i) => {
    if (!found2[i] && shade(i)) {
      found2[i] = 1;
      stack.push(i);
    }
  };
  const around2 = (i) => {
    const x = i % width2;
    if (x > 0) visit(i - 1);
    if (x < width2 - 1) visit(i + 1);
    if (i >= width2) visit(i - width2);
    if (i + width2 < width2 * height2) visit(i + width2);
  };
  for (let i = 0; i < found2.length; i++) if (found2[i]) around2(i);
  while (stack.length > 0) around2(stack.pop());
}
function cleanestBlock(picture, mask, primary) {
  const { width: width2, height: height2 } = picture;
  const size = Math.max(4, Math.round(Math.min(width2, height2) / 24));
  const channel = picture[primary];
  const cols = Math.floor(width2 / size);
  const rows = Math.floor(height2 / size);
  const pure = [];
  const levels = [];
  for (let by = 0; by < rows; by++)
    for (let bx2 = 0; bx2 < cols; bx2++) {
      let s2 = 0;
      let q = 0;
      let c = 0;
      for (let y = by * size; y < (by + 1) * size; y++)
        for (let x = bx2 * size; x < (bx2 + 1) * size; x++) {
          const i = y * width2 + x;
          const v = channel[i];
          c += mask[i];
          s2 += v;
          q += v * v;
        }
      const k2 = size * size;
      const mean = s2 / k2;
      const whole = c >= 0.995 * k2;
      pure.push(whole ? Math.sqrt(Math.max(0, q / k2 - mean * mean)) / mean : void 0);
      if (whole) levels.push(mean);
    }
  levels.sort((a2, b2) => a2 - b2);
  const middle = levels[levels.length >> 1] ?? 0;
  let best = -1;
  let bestScore = Number.POSITIVE_INFINITY;
  for (let b2 = 0; b2 < pure.length; b2++) {
    const spread = pure[b2];
    if (spread === void 0) continue;
    const bx2 = b2 % cols;
    const by = (b2 - bx2) / cols;
    let near = 6;
    for (let dy = -5; dy <= 5; dy++)
      for (let dx = -5; dx <= 5; dx++) {
        const x = bx2 + dx;
        const y = by + dy;
        if (x < 0 || y < 0 || x >= cols || y >= rows) continue;
        if (pure[y * cols + x] === void 0) near = Math.min(near, Math.max(Math.abs(dx), Math.abs(dy)));
      }
    const mean = blockMean(channel, width2, bx2 * size, by * size, size);
    const score = spread + 0.01 * Math.abs(near - 2) + 0.05 * Math.abs(Math.log2(mean / middle));
    if (score < bestScore) {
      bestScore = score;
      best = b2;
    }
  }
  if (best < 0) {
    let [x0, y0, x1, y1] = [width2, height2, 0, 0];
    for (let i = 0; i < mask.length; i++)
      if (mask[i]) {
        const x = i % width2;
        const y = (i - x) / width2;
        [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x + 1), Math.max(y1, y + 1)];
      }
    return { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
  }
  const bx = best % cols;
  return { x: bx * size, y: (best - bx) / cols * size, width: size, height: size };
}
function blockMean(channel, width2, x0, y0, size) {
  let s2 = 0;
  for (let y = y0; y < y0 + size; y++) for (let x = x0; x < x0 + size; x++) s2 += channel[y * width2 + x];
  return s2 / (size * size);
}

// src/core/key/subject-difference.ts
var WIDTH = 480;
var MARGIN = 2.5;
var SOLID = 0.75;
var MAYBE = 0.35;
var TEXTURE = 0.035;
var KEEP_FROM = 0.2;
var KEEP_ALL = 0.32;
var GARMENT = 6e-4;
var REACH = 3.5;
var CLEAR = 0.1;
var STEP = 5;
var SHARP = 0.5;
var MOST = 0.6;
function certainSubject(e, back, screen, w, h) {
  const n2 = w * h;
  const toScreen2 = distanceTo(screen, w, h);
  const mean = boxMean(e, w, h, 1);
  const square = boxMean(
    e.map((v) => v * v),
    w,
    h,
    1
  );
  const certain = new Float32Array(n2);
  const maybe = new Uint8Array(n2);
  for (let i = 0; i < n2; i++) {
    if (toScreen2[i] <= MARGIN) continue;
    const b2 = Math.max(1e-6, back(i));
    const m = mean[i];
    const rough = Math.sqrt(Math.max(0, square[i] - m * m)) / b2;
    if (rough > TEXTURE) continue;
    const plain = 1 - e[i] / b2;
    if (plain >= SOLID) certain[i] = 1;
    else if (plain >= MAYBE) maybe[i] = 1;
  }
  const clear = maskOf(e, (v, i) => 1 - v / Math.max(1e-6, back(i)) < CLEAR);
  const toClear = distanceTo(clear, w, h);
  const areas = labelComponents(maybe, w, h);
  const rim = new Float64Array(areas.areas.length);
  const sharp2 = new Float64Array(areas.areas.length);
  for (let y = 1; y < h - 1; y++)
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const label = areas.labels[i];
      if (!label) continue;
      const outer = [i - 1, i + 1, i - w, i + w].filter((k2) => !maybe[k2]);
      if (outer.length === 0 || outer.some((k2) => certain[k2] === 1)) continue;
      rim[label]++;
      if (toClear[i] < MARGIN + STEP) sharp2[label]++;
    }
  for (let i = 0; i < n2; i++) {
    const label = areas.labels[i];
    if (label && areas.areas[label] >= 12 && sharp2[label] > SHARP * rim[label]) certain[i] = 1;
  }
  return certain;
}
function subjectExcess(plate, key, allocate = fresh) {
  const { primary, weight, screen } = key;
  const factor = Math.max(1, Math.round(plate.width / WIDTH));
  const small = shrinkPicture(plate, factor);
  const { width: w, height: h } = small;
  const n2 = w * h;
  const e = excessPlane(small, primary, weight);
  const back = isPicture(screen) ? excessPlane(shrinkPicture(screen, factor), primary, weight) : null;
  const constant = isPicture(screen) ? 0 : excessOf(screen, primary, weight);
  const weights = certainSubject(e, (i) => back ? back[i] : constant, screenMask(small, primary).mask, w, h);
  let found2 = 0;
  for (let i = 0; i < n2; i++) found2 += weights[i];
  if (found2 < 1e-4 * n2) return null;
  const p2 = small[primary];
  const green = e.map((v, i) => {
    const part = (v / Math.max(1e-6, p2[i]) - KEEP_FROM) / (KEEP_ALL - KEEP_FROM);
    return part <= 0 ? 0 : part >= 1 ? 1 : part * part * (3 - 2 * part);
  });
  const garments = labelComponents(
    maskOf(green, (v, i) => v > 0.3 && weights[i] === 1),
    w,
    h
  );
  for (let i = 0; i < n2; i++) if (garments.areas[garments.labels[i]] < GARMENT * n2) green[i] = 0;
  fillIn([e, green], weights, w, h);
  const away = distanceTo(new Uint8Array(weights), w, h);
  for (let i = 0; i < n2; i++) e[i] = e[i] * Math.exp(-((away[i] / REACH) ** 2));
  const excess2 = allocate(plate.width * plate.height);
  enlargeChannel(e, w, h, factor, plate.width, plate.height, excess2);
  const nearScreen = allocate(plate.width * plate.height);
  enlargeChannel(green, w, h, factor, plate.width, plate.height, nearScreen);
  return { excess: excess2, nearScreen };
}
function subjectDifference(plate, key, own, allocate = fresh) {
  const { primary, weight, screen } = key;
  const [un, vn] = otherChannels(primary);
  if (!isPicture(screen) && !(excessOf(screen, primary, weight) > 1e-6))
    throw new RangeError("The screen colour does not exceed its other channels; sample the screen again or change the weight.");
  const data = allocate(plate.r.length);
  pointwise(
    "difference",
    [weight, 1 - weight, MOST],
    [plate[primary], plate[un], plate[vn], screen[primary], screen[un], screen[vn], own ? own.excess : 0],
    [data]
  );
  return { width: plate.width, height: plate.height, data };
}

// src/core/screen/areas.ts
var boxOf = (labels, width2) => {
  const boxes = /* @__PURE__ */ new Map();
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i];
    if (!label) continue;
    const x = i % width2;
    const y = (i - x) / width2;
    const b2 = boxes.get(label);
    if (!b2) boxes.set(label, [x, y, x, y]);
    else {
      if (x < b2[0]) b2[0] = x;
      if (x > b2[2]) b2[2] = x;
      if (y > b2[3]) b2[3] = y;
    }
  }
  return boxes;
};
var MARKER_MOST = 3e-3;
function screenAround(screen, r, width2, height2) {
  const room = Math.max(3, Math.ceil(Math.max(r.width, r.height) / 2));
  let [shown, all] = [0, 0];
  for (let y = Math.max(0, r.y - room); y < Math.min(height2, r.y + r.height + room); y++)
    for (let x = Math.max(0, r.x - room); x < Math.min(width2, r.x + r.width + room); x++) {
      if (x >= r.x && x < r.x + r.width && y >= r.y && y < r.y + r.height) continue;
      all++;
      shown += screen[y * width2 + x];
    }
  return shown > 0.97 * all;
}
var ENDS = 0.3;
function beyondScreen(screen, luma, screenLight, width2, height2) {
  const dark = maskOf(screen, (s2, i) => !s2 && luma[i] < 0.12 * screenLight);
  const { labels, areas } = labelComponents(dark, width2, height2);
  const met = new Uint8Array(areas.length);
  for (let y = 0; y < height2; y++) for (const x of [0, width2 - 1]) met[labels[y * width2 + x]] = 1;
  for (let x = 0; x < width2; x++) met[labels[x]] = 1;
  met[0] = 0;
  const beyond = maskOf(labels, (l) => met[l] === 1);
  const besides = [
    toScreen(screen, beyond, height2, width2, (k2, depth) => k2 * width2 + depth),
    toScreen(screen, beyond, height2, width2, (k2, depth) => k2 * width2 + width2 - 1 - depth),
    toScreen(screen, beyond, width2, height2, (k2, depth) => depth * width2 + k2)
  ];
  for (const places2 of besides) for (const i of places2) beyond[i] = 1;
  return beyond;
}
function toScreen(screen, beyond, count, depth, at) {
  const begins = [];
  let ends = 0;
  for (let k2 = 0; k2 < count; k2++) {
    ends += beyond[at(k2, 0)];
    let d = 0;
    while (d < depth && !screen[at(k2, d)]) d++;
    begins.push(d);
  }
  if (ends < ENDS * count) return [];
  const reach = Math.ceil(count / 12);
  const places2 = [];
  for (let k2 = 0; k2 < count; k2++) {
    const near = begins.slice(Math.max(0, k2 - reach), k2 + reach + 1).sort((a2, b2) => a2 - b2);
    const line = Math.min(begins[k2], near[near.length >> 1], depth / 3);
    for (let d = 0; d < line; d++) places2.push(at(k2, d));
  }
  return places2;
}
function partAreas(screen, luma, screenLight, width2, height2) {
  const n2 = width2 * height2;
  const other = new Uint8Array(n2);
  for (let i = 0; i < n2; i++) other[i] = screen[i] ? 0 : 1;
  const beyond = beyondScreen(screen, luma, screenLight, width2, height2);
  const isBeyond = (i) => beyond[i] === 1;
  const patches = labelComponents(other, width2, height2);
  const boxes = boxOf(patches.labels, width2);
  const markers = [];
  const small = new Uint8Array(patches.areas.length);
  for (let k2 = 1; k2 < patches.areas.length; k2++) {
    const area = patches.areas[k2];
    if (area > MARKER_MOST * n2) continue;
    small[k2] = 1;
    if (patches.atBorder[k2] || area < 1e-5 * n2 || area < 6) continue;
    const [x0, y0, x1, y1] = boxes.get(k2);
    const [w, h] = [x1 - x0 + 1, y1 - y0 + 1];
    if (Math.max(w, h) >= 2.5 * Math.min(w, h) || area <= 0.12 * w * h) continue;
    const place = { x: x0, y: y0, width: w, height: h };
    if (screenAround(screen, place, width2, height2)) markers.push(place);
  }
  const away = distanceTo(screen, width2, height2);
  const margin = Math.max(2, height2 / 180);
  const subject = new Uint8Array(n2);
  for (let i = 0; i < n2; i++)
    if (other[i] && away[i] > margin && !small[patches.labels[i]] && !isBeyond(i)) subject[i] = 1;
  const share = (count, of) => {
    let c = 0;
    for (let k2 = 0; k2 < count; k2++) if (isBeyond(of(k2))) c++;
    return c / count;
  };
  const columns = new Float64Array(width2);
  for (let i = 0; i < n2; i++) if (screen[i]) columns[i % width2]++;
  const shown = (x) => columns[x] > 0.05 * height2;
  let [first, last] = [0, width2 - 1];
  while (first < width2 - 1 && !shown(first)) first++;
  while (last > 0 && !shown(last)) last--;
  return {
    subject,
    markers,
    ends: {
      left: share(height2, (y) => y * width2),
      right: share(height2, (y) => y * width2 + width2 - 1),
      top: share(width2, (x) => x)
    },
    span: [first / width2, (last + 1) / width2]
  };
}

// src/core/screen/align.ts
var STEPS = 14;
var ROBUST = 4;
var MOST2 = 0.02;
var BETTER = 0.9;
var CALM = 2;
var stopsOf = ({ width: width2, height: height2, r, g, b: b2 }) => {
  const data = new Float32Array(width2 * height2);
  for (let i = 0; i < data.length; i++)
    data[i] = Math.log2(Math.max(1e-4, luminance({ r: r[i], g: g[i], b: b2[i] })));
  return { width: width2, height: height2, data: boxMean(data, width2, height2, CALM) };
};
function bilinear({ width: width2, height: height2, data }, x, y) {
  const cx = Math.min(width2 - 1, Math.max(0, x));
  const cy = Math.min(height2 - 1, Math.max(0, y));
  const [x0, y0] = [Math.floor(cx), Math.floor(cy)];
  const [fx, fy] = [cx - x0, cy - y0];
  const x1 = Math.min(width2 - 1, x0 + 1);
  const at = (px2, py) => data[py * width2 + px2];
  const y1 = Math.min(height2 - 1, y0 + 1);
  return (1 - fy) * ((1 - fx) * at(x0, y0) + fx * at(x1, y0)) + fy * ((1 - fx) * at(x0, y1) + fx * at(x1, y1));
}
function findDrift(clean2, plate, certain) {
  const { width: width2, height: height2 } = plate;
  const [moving, fixed] = [stopsOf(clean2), stopsOf(plate)];
  const places2 = [];
  const stride = Math.max(1, Math.round(Math.sqrt(width2 * height2 / 4e5)));
  for (let y = 2; y < height2 - 2; y += stride)
    for (let x = 2; x < width2 - 2; x += stride) if (certain[y * width2 + x]) places2.push(y * width2 + x);
  if (places2.length < 500) return null;
  let [dx, dy] = [0, 0];
  const errors = new Float32Array(places2.length);
  let first = 0;
  let last = 0;
  for (let step = 0; step < STEPS; step++) {
    for (let k2 = 0; k2 < places2.length; k2++) {
      const i = places2[k2];
      const x = i % width2;
      errors[k2] = fixed.data[i] - bilinear(moving, x + dx, (i - x) / width2 + dy);
    }
    const middle = errors.slice().sort()[errors.length >> 1];
    const limit = ROBUST * errors.map((e) => Math.abs(e - middle)).sort()[errors.length >> 1] + 1e-6;
    let [xx, xy, yy, xe, ye, square, count] = [0, 0, 0, 0, 0, 0, 0];
    for (let k2 = 0; k2 < places2.length; k2++) {
      const e = errors[k2] - middle;
      if (Math.abs(e) > limit) continue;
      const i = places2[k2];
      const x = i % width2;
      const y = (i - x) / width2;
      const gx = 0.5 * (bilinear(moving, x + dx + 1, y + dy) - bilinear(moving, x + dx - 1, y + dy));
      const gy = 0.5 * (bilinear(moving, x + dx, y + dy + 1) - bilinear(moving, x + dx, y + dy - 1));
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
      xe += gx * e;
      ye += gy * e;
      square += e * e;
      count++;
    }
    last = square / Math.max(1, count);
    if (step === 0) first = last;
    const determinant = xx * yy - xy * xy;
    if (determinant < 1e-6 * (xx + yy) ** 2 || count < 300) return null;
    const [sx, sy] = [(yy * xe - xy * ye) / determinant, (xx * ye - xy * xe) / determinant];
    dx += sx;
    dy += sy;
    if (Math.hypot(dx, dy) > MOST2 * width2) return null;
    if (Math.hypot(sx, sy) < 2e-3) break;
  }
  return last < BETTER * first ? { dx, dy } : null;
}
var withoutDrift = (clean2, { dx, dy }) => placePicture(clean2, clean2.width, clean2.height, { scaleX: 1, scaleY: 1, offsetX: -dx, offsetY: -dy }, true);

// src/core/screen/noise.ts
function blockNoise(channel, mask, width2, height2, { quantile = 0.5, factor = 1 } = {}) {
  const N = 5;
  const maskWidth = Math.ceil(width2 / factor);
  const found2 = [];
  let xx = 0;
  for (let y = 0; y < N; y++) for (let x = 0; x < N; x++) xx += (x - (N - 1) / 2) ** 2;
  const stride = Math.max(1, Math.round(Math.sqrt(width2 * height2 / 7e5))) * N;
  for (let by = 0; by + N <= height2; by += stride)
    for (let bx = 0; bx + N <= width2; bx += stride) {
      let [s2, q, sx, sy] = [0, 0, 0, 0];
      let whole = true;
      for (let y = 0; y < N && whole; y++)
        for (let x = 0; x < N; x++) {
          const i = (by + y) * width2 + bx + x;
          if (!mask[factor === 1 ? i : Math.floor((by + y) / factor) * maskWidth + Math.floor((bx + x) / factor)]) {
            whole = false;
            break;
          }
          const v = channel[i];
          s2 += v;
          q += v * v;
          sx += v * (x - (N - 1) / 2);
          sy += v * (y - (N - 1) / 2);
        }
      if (!whole) continue;
      const n2 = N * N;
      found2.push(Math.max(0, q - s2 * s2 / n2 - (sx * sx + sy * sy) / xx) / (n2 - 3));
    }
  if (found2.length === 0) return 0;
  return Math.sqrt(valueAt(Float32Array.from(found2), Math.floor(quantile * (found2.length - 1))));
}

// src/core/screen/clean-plate.ts
var CLEAN_WIDTH = 480;
var CLEAN_RIM = 2.5;
var GREYER = 0.03;
var TEXTURE2 = 0.03;
var CHANNELS = ["r", "g", "b"];
function certainScreen(plate, small, factor, primary) {
  const { width: w, height: h } = small;
  const { mask, count } = screenMask(small, primary);
  const excess2 = excessPlane(plate, primary, 0.5);
  const cells = meanAndSquare(excess2, plate.width, plate.height, factor);
  const noise = blockNoise(excess2, mask, plate.width, plate.height, { factor });
  const texture = new Float32Array(w * h);
  const around2 = factor === 1 ? 2 : 1;
  const level2 = boxMean(cells.mean, w, h, around2);
  const square = boxMean(cells.square, w, h, around2);
  for (let i = 0; i < texture.length; i++) {
    const m = level2[i];
    texture[i] = m > 1e-6 ? Math.sqrt(Math.max(0, square[i] - m * m)) / m : 10;
  }
  const ownExcess2 = excessPlane(small, primary, 0.5);
  const p2 = small[primary];
  const purity = new Float32Array(w * h);
  for (let i = 0; i < purity.length; i++) purity[i] = ownExcess2[i] / Math.max(1e-6, p2[i]);
  const calm2 = boxMean(purity, w, h, 1);
  const grey = new Float32Array(w * h);
  for (let i = 0; i < grey.length; i++) grey[i] = 1 - calm2[i];
  const usual = middleOf(valuesWhere(grey, mask), 0);
  const rim = new Uint8Array(w * h);
  for (let i = 0; i < rim.length; i++) {
    const grain = level2[i] > 1e-6 ? noise / level2[i] : 1;
    rim[i] = mask[i] && texture[i] < TEXTURE2 + 1.35 * grain && grey[i] < usual + GREYER ? 0 : 1;
  }
  const toRim = distanceTo(rim, w, h);
  const certain = new Float32Array(w * h);
  let known = 0;
  for (let i = 0; i < certain.length; i++)
    if (toRim[i] > CLEAN_RIM) {
      certain[i] = 1;
      known++;
    }
  if (known < 5e-3 * certain.length && count > 0) for (let i = 0; i < certain.length; i++) certain[i] = mask[i];
  return certain;
}
function meanAndSquare(plane, width2, height2, factor) {
  const squares = new Float32Array(plane.length);
  for (let i = 0; i < squares.length; i++) squares[i] = plane[i] ** 2;
  return { mean: shrinkChannel(plane, width2, height2, factor), square: shrinkChannel(squares, width2, height2, factor) };
}
function synthesiseCleanPlate(plate, primary, allocate = fresh) {
  const { width: width2, height: height2 } = plate;
  const factor = Math.max(1, Math.round(width2 / CLEAN_WIDTH));
  const small = shrinkPicture(plate, factor);
  const weight = certainScreen(plate, small, factor, primary);
  if (weight.every((v) => v === 0))
    throw new RangeError("No screen was found to make a clean plate from. Sample the screen, or supply one.");
  const channels2 = CHANNELS.map((c) => meanOfKnown(small[c], weight, small.width, small.height));
  fillIn(channels2, weight, small.width, small.height);
  return enlargeFilled(channels2, small.width, small.height, factor, width2, height2, allocate);
}
function enlargeFilled(small, w, h, factor, width2, height2, allocate = fresh) {
  const out = { width: width2, height: height2, r: allocate(width2 * height2), g: allocate(width2 * height2), b: allocate(width2 * height2) };
  small.forEach((c, k2) => {
    enlargeChannel(c, w, h, factor, width2, height2, out[CHANNELS[k2]]);
  });
  return out;
}
function meanOfKnown(source, weight, width2, height2) {
  const sum = boxMean(
    source.map((v, i) => v * weight[i]),
    width2,
    height2,
    2
  );
  const total = boxMean(weight, width2, height2, 2);
  return sum.map((v, i) => weight[i] > 0 ? v / total[i] : 0);
}
function suppliedCleanPlate(supplied, plate, primary) {
  if (supplied.width !== plate.width || supplied.height !== plate.height)
    throw new RangeError(
      `The clean plate is ${supplied.width}\xD7${supplied.height}, the plate ${plate.width}\xD7${plate.height}; supply one of the same size.`
    );
  const factor = Math.max(1, Math.round(plate.width / CLEAN_WIDTH));
  const small = shrinkPicture(plate, factor);
  const certain = certainScreen(plate, small, factor, primary);
  const shown = screenMask(small, primary).mask;
  const wide = new Uint8Array(plate.width * plate.height);
  for (let y = 0; y < plate.height; y++)
    for (let x = 0; x < plate.width; x++)
      wide[y * plate.width + x] = shown[Math.floor(y / factor) * small.width + Math.floor(x / factor)];
  const drift = findDrift(supplied, plate, wide);
  const clean2 = drift ? withoutDrift(supplied, drift) : supplied;
  const other = shrinkPicture(clean2, factor);
  const gain = (c) => {
    const ratios = small[c].map((v, i) => v / Math.max(1e-5, other[c][i]));
    return middleOf(valuesWhere(ratios, certain), 1);
  };
  const brought = (c) => {
    const k2 = gain(c);
    return clean2[c].map((v) => v * k2);
  };
  return { width: clean2.width, height: clean2.height, r: brought("r"), g: brought("g"), b: brought("b") };
}

// src/core/screen/locate.ts
var WIDTH2 = 480;
function locateScreen(plate) {
  const factor = Math.max(1, Math.round(plate.width / WIDTH2));
  const small = shrinkPicture(plate, factor);
  const found2 = findScreen(small);
  const box = { x: found2.box.x * factor, y: found2.box.y * factor, width: found2.box.width * factor, height: found2.box.height * factor };
  return { found: found2, small, factor, box, sample: sampleScreen(plate, [box]) };
}

// src/core/spill/limit.ts
var SPILL_LIMITS = ["average", "maximum", "minimum", "mix"];
var SPILL_REPLACEMENTS = ["nothing", "neutral", "surface", "original", "muted", "background"];
var SHOULDER = 20;
var neutralLimit = (u, v, limit, mix = 0.5) => limit === "average" ? 0.5 * (u + v) : limit === "mix" ? mix * u + (1 - mix) * v : limit === "maximum" ? Math.max(u, v) : Math.min(u, v);
var LUMINANCE = {
  r: luminance({ r: 1, g: 0, b: 0 }),
  g: luminance({ r: 0, g: 1, b: 0 }),
  b: luminance({ r: 0, g: 0, b: 1 })
};
var unitLuminance = (primary) => LUMINANCE[primary];
var MUTED = 0.35;
var SURFACE_MOST = 1.5;
var beyondChannels = (limit, mix = 0.5) => limit === "mix" && (mix < 0 || mix > 1);
function lightTaken(s2) {
  const { primary, screen, limit, mix = 0.5 } = s2;
  const alone = { r: 0, g: 0, b: 0, [primary]: 1 };
  if (!screen || !beyondChannels(limit, mix)) return alone;
  const grey = Math.min(screen.r, screen.g, screen.b);
  const [un, vn] = otherChannels(primary);
  const excess2 = screen[primary] - neutralLimit(screen[un], screen[vn], limit, mix);
  if (!(excess2 > 1e-6)) return alone;
  return { r: (screen.r - grey) / excess2, g: (screen.g - grey) / excess2, b: (screen.b - grey) / excess2 };
}
function evenPutBack(s2) {
  const unit = luminance(lightTaken(s2));
  switch (s2.replace) {
    case "surface":
      return null;
    case "background":
      return s2.light ? null : { r: unit, g: unit, b: unit };
    case "neutral":
      return { r: unit, g: unit, b: unit };
    case "muted": {
      const y = s2.screen ? Math.max(1e-6, luminance(s2.screen)) : 1;
      const hue = (c) => unit * (s2.screen ? 1 - MUTED + MUTED * s2.screen[c] / y : 1);
      return { r: hue("r"), g: hue("g"), b: hue("b") };
    }
    default:
      return { r: 0, g: 0, b: 0 };
  }
}
function putBack(picture, taken, s2) {
  const unit = luminance(lightTaken(s2));
  const { r, g, b: b2 } = picture;
  for (let i = 0; i < taken.length; i++) {
    const light = taken[i] * unit;
    if (!(light > 0)) continue;
    const from = s2.replace === "surface" ? picture : s2.light;
    const [R2, G2, B2] = [from.r[i], from.g[i], from.b[i]];
    const y = LUMINANCE.r * R2 + LUMINANCE.g * G2 + LUMINANCE.b * B2;
    let k2 = y > 1e-4 ? light / y : 0;
    if (s2.replace === "surface") k2 = Math.min(SURFACE_MOST, k2);
    const rest = Math.max(0, light - k2 * y);
    r[i] = r[i] + k2 * R2 + rest;
    g[i] = g[i] + k2 * G2 + rest;
    b2[i] = b2[i] + k2 * B2 + rest;
  }
}
function spillParameters(s2) {
  const { primary, limit, mix = 0.5, reachWarm = 180, reachCool = 180 } = s2;
  const [un, vn] = otherChannels(primary);
  const even = evenPutBack(s2) ?? { r: 0, g: 0, b: 0 };
  const taken = lightTaken(s2);
  return [
    limit === "maximum" ? 1 : limit === "minimum" ? 2 : 0,
    limit === "average" ? 0.5 : mix,
    s2.replace === "original" ? 0 : s2.amount,
    LUMINANCE[primary],
    LUMINANCE[un],
    LUMINANCE[vn],
    reachWarm,
    reachCool,
    SHOULDER,
    even[primary] - taken[primary],
    even[un] - taken[un],
    even[vn] - taken[vn],
    taken[primary],
    taken[un],
    taken[vn]
  ];
}
function limitSpill(picture, settings, allocate = fresh, own) {
  const { primary } = settings;
  const [un, vn] = otherChannels(primary);
  const { width: width2, height: height2, r, g, b: b2 } = picture;
  const removed = allocate(r.length);
  const even = evenPutBack(settings);
  const onlyPrimary = even !== null && even.r === 0 && even.g === 0 && even.b === 0 && lightTaken(settings)[primary] === 1;
  const out = onlyPrimary ? { width: width2, height: height2, r, g, b: b2, [primary]: allocate(r.length) } : { width: width2, height: height2, r: allocate(r.length), g: allocate(r.length), b: allocate(r.length) };
  pointwise(
    "limitSpill",
    spillParameters(settings),
    [picture[primary], picture[un], picture[vn], own ?? 0],
    [out[primary], onlyPrimary ? null : out[un], onlyPrimary ? null : out[vn], removed]
  );
  if (!even) putBack(out, removed, settings);
  return { picture: out, removed };
}

// src/core/image/blur.ts
function gaussianWeights(sigma) {
  if (sigma <= 0) return Float32Array.of(1);
  const radius = Math.max(1, Math.ceil(3 * sigma));
  const w = Float32Array.from({ length: 2 * radius + 1 }, (_, i) => Math.exp(-((i - radius) ** 2) / (2 * sigma * sigma)));
  const sum = w.reduce((a2, b2) => a2 + b2, 0);
  return w.map((v) => v / sum);
}
function gaussianBlur(source, width2, height2, sigma) {
  const weights = gaussianWeights(sigma);
  const radius = (weights.length - 1) / 2;
  if (radius === 0) return source.slice();
  const room = new Float32Array(weights.length + width2 + 2 * radius + 16);
  room.set(weights);
  return onPlane("weightedBlur", source, new Float32Array(source.length), room, width2, height2, radius);
}

// src/core/image/wide-blur.ts
var WIDE = 6;
function wideBlur(source, width2, height2, sigma) {
  if (sigma < WIDE) return gaussianBlur(source, width2, height2, sigma);
  const side = Math.sqrt(4 * sigma * sigma + 1);
  const low = Math.floor((side - 1) / 2);
  const variance = (r) => ((2 * r + 1) ** 2 - 1) / 12;
  const large = Math.min(3, Math.max(0, Math.round((sigma * sigma - 3 * variance(low)) / (variance(low + 1) - variance(low)))));
  let out = source;
  for (let k2 = 0; k2 < 3; k2++) out = boxMean(out, width2, height2, k2 < large ? low + 1 : low);
  return out;
}

// src/core/matte/edge.ts
function adjustEdge(matte, shift, soften, allocate = fresh) {
  const { width: width2, height: height2 } = matte;
  let data = matte.data;
  if (shift !== 0) data = shiftEdge(data, width2, height2, shift, allocate);
  if (soften > 0) data = gaussianBlur(data, width2, height2, soften);
  return { width: width2, height: height2, data };
}
function shiftEdge(data, width2, height2, shift, allocate) {
  const grow = shift > 0;
  const steps = Math.ceil(Math.abs(shift));
  const part = Math.abs(shift) / steps;
  let now = data;
  for (let s2 = 0; s2 < steps; s2++) {
    const next = allocate(data.length);
    for (let y = 0; y < height2; y++)
      for (let x = 0; x < width2; x++) {
        const i = y * width2 + x;
        const here = now[i];
        let best = here;
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            if (dx === 0 && dy === 0) continue;
            const v = now[Math.min(height2 - 1, Math.max(0, y + dy)) * width2 + Math.min(width2 - 1, Math.max(0, x + dx))];
            const along = dx !== 0 && dy !== 0 ? here + (v - here) * Math.SQRT1_2 : v;
            if (grow ? along > best : along < best) best = along;
          }
        next[i] = here + part * (best - here);
      }
    now = next;
  }
  return now;
}
var WIDE_FROM = 14;
var WIDE_FULL = 24;
var TELL = 5;
var EMPTY = 5e-3;
function softenWideGreys(matte, sigma, scale, allocate = fresh) {
  const { width: width2, height: height2, data } = matte;
  const radius = Math.max(2, Math.round(TELL * scale));
  const high = extreme(data, width2, height2, radius, Math.max);
  const low = extreme(data, width2, height2, radius, Math.min);
  const blurred = wideBlur(data, width2, height2, sigma);
  const out = allocate(data.length);
  for (let i = 0; i < out.length; i++) {
    const m = data[i];
    out[i] = m;
    if (m < EMPTY || m > 1 - EMPTY) continue;
    const climb = high[i] - low[i];
    const ramp3 = climb > 0 ? 2 * radius / scale / climb : 0;
    const share = Math.min(1, Math.max(0, (ramp3 - WIDE_FROM) / (WIDE_FULL - WIDE_FROM)));
    out[i] = m + share * (blurred[i] - m);
  }
  return { width: width2, height: height2, data: out };
}
function extreme(source, width2, height2, radius, of) {
  const across = new Float32Array(source.length);
  const out = new Float32Array(source.length);
  for (let y = 0; y < height2; y++)
    for (let x = 0; x < width2; x++) {
      let v = source[y * width2 + x];
      for (let k2 = Math.max(0, x - radius); k2 <= Math.min(width2 - 1, x + radius); k2++) v = of(v, source[y * width2 + k2]);
      across[y * width2 + x] = v;
    }
  for (let y = 0; y < height2; y++)
    for (let x = 0; x < width2; x++) {
      let v = across[y * width2 + x];
      for (let k2 = Math.max(0, y - radius); k2 <= Math.min(height2 - 1, y + radius); k2++) v = of(v, across[k2 * width2 + x]);
      out[y * width2 + x] = v;
    }
  return out;
}

// src/core/edge/light-wrap.ts
var WRAP_BLENDS = ["screen", "add", "normal"];
var REACH_SIGMAS = 2;
function wrapMask(matte, { reach, grow }) {
  const { width: width2, height: height2, data } = matte;
  const grown = grow > 0 ? adjustEdge(matte, grow, 0).data : data;
  const blurred = wideBlur(grown, width2, height2, Math.max(0.3, reach / REACH_SIGMAS));
  const out = new Float32Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = data[i] * Math.max(0, 1 - blurred[i]);
  return out;
}
function lightWrap(composite, matte, background, wrap, allocate = fresh) {
  const { width: width2, height: height2 } = composite;
  const mask = wrapMask(matte, wrap);
  const channel = (c) => {
    const light = wideBlur(background[c], width2, height2, wrap.blur);
    const from = composite[c];
    const out = allocate(from.length);
    for (let i = 0; i < out.length; i++) {
      const here = from[i];
      const k2 = wrap.strength * mask[i];
      const l = Math.max(0, light[i]);
      if (wrap.blend === "add") out[i] = here + k2 * l;
      else if (wrap.blend === "normal") out[i] = here + k2 * (l - here);
      else out[i] = here >= 1 ? here : 1 - (1 - here) * (1 - k2 * Math.min(1, l));
    }
    return out;
  };
  return { width: width2, height: height2, r: channel("r"), g: channel("g"), b: channel("b") };
}

// src/core/image/chroma-rebuild.ts
var RADIUS = 2;
var FLAT = 6;
var STEEPEST = 1.5;
var ROUNDS = 3;
var GRAIN = 1;
var ROOM = 0.1;
var EVEN = 4;
var COSITED = { from: -1, weights: [0.25, 0.5, 0.25] };
var CENTRED = { from: 0, weights: [0.5, 0.5] };
var ONE = { from: 0, weights: [1] };
function footprintOf(subsampling, siting) {
  const tall = subsampling === "420";
  return {
    across: siting === "center" ? CENTRED : COSITED,
    down: !tall ? ONE : siting === "topleft" ? COSITED : CENTRED,
    rows: tall ? 2 : 1
  };
}
function lumaAtChroma(Y, width2, height2, cw, ch, footprint) {
  const { across, down, rows } = footprint;
  const out = new Float32Array(cw * ch);
  const line = new Float32Array(width2);
  for (let y = 0; y < ch; y++) {
    line.fill(0);
    for (let k2 = 0; k2 < down.weights.length; k2++) {
      const row = Math.min(height2 - 1, Math.max(0, rows * y + down.from + k2)) * width2;
      const w = down.weights[k2];
      for (let x = 0; x < width2; x++) line[x] = line[x] + w * Y[row + x];
    }
    const at = y * cw;
    for (let l = 0; l < across.weights.length; l++) {
      const w = across.weights[l];
      const from = across.from + l;
      for (let x = 0; x < cw; x++) {
        const q = 2 * x + from;
        out[at + x] = out[at + x] + w * line[q < 0 ? 0 : q < width2 ? q : width2 - 1];
      }
    }
  }
  return out;
}
function decodeWithRebuiltChroma(raw2, reading) {
  const { width: width2, height: height2, layout } = raw2;
  if (layout.kind !== "ycbcr" || layout.subsampling === "444") return decodeRawFrame(raw2, reading);
  const { width: cw, height: ch } = planeSizes(width2, height2, layout)[1];
  const Y = raw2.planes[0];
  const footprint = footprintOf(layout.subsampling, reading.siting);
  const n2 = cw * ch;
  const low = lumaAtChroma(Y, width2, height2, cw, ch, footprint);
  const mean = (c) => boxMean(c, cw, ch, RADIUS);
  const meanY = mean(low);
  const variance = new Float32Array(n2);
  for (let i = 0; i < n2; i++) variance[i] = low[i] ** 2;
  variance.set(mean(variance));
  const code = 2 ** (layout.bits - 8);
  for (let i = 0; i < n2; i++) variance[i] = Math.max(0, variance[i] - meanY[i] ** 2) + FLAT * code * code;
  const follow = (k2) => {
    const c = new Float32Array(raw2.planes[k2]);
    const meanC = mean(c);
    const product = new Float32Array(n2);
    for (let i = 0; i < n2; i++) product[i] = c[i] * low[i];
    const slope = mean(product);
    for (let i = 0; i < n2; i++) {
      const a2 = (slope[i] - meanY[i] * meanC[i]) / variance[i];
      slope[i] = a2 > STEEPEST ? STEEPEST : a2 < -STEEPEST ? -STEEPEST : a2;
    }
    return { c, steep: mean(slope), fine: new Float32Array(width2 * height2) };
  };
  const planes = [follow(1), follow(2)];
  const room = rowRoom(width2, 4, cw, [low, ...planes.flatMap(({ c, steep }) => [c, steep])], null);
  const [luma, base, rise, to] = room.rowsAt;
  const up = (plane, row, y) => chromaRow(room, plane, row, cw, ch, y, layout.subsampling, reading.siting);
  for (let y = 0; y < height2; y++) {
    room.Y.set(Y.subarray(y * width2, (y + 1) * width2));
    up(0, 0, y);
    planes.forEach(({ fine }, k2) => {
      up(1 + 2 * k2, 1, y);
      up(2 + 2 * k2, 2, y);
      onRows("alongLuma", room.YAt, base, rise, luma, to, width2);
      fine.set(room.rows[3], y * width2);
    });
  }
  const back = {
    rows: footprint.rows,
    cositedAcross: footprint.across === COSITED,
    cositedDown: footprint.down === COSITED,
    rounds: ROUNDS,
    grain: GRAIN * code,
    even: EVEN * code,
    spare: ROOM
  };
  for (const { c, fine } of planes) backToRecorded(fine, width2, height2, c, cw, ch, back);
  const picture = decodeRows(
    raw2,
    reading,
    0,
    [],
    ({ rows }, y) => planes.forEach(({ fine }, k2) => {
      rows[k2].set(fine.subarray(y * width2, (y + 1) * width2));
    })
  );
  return layout.alpha ? { ...picture, a: decodeAlpha(raw2) } : picture;
}

// src/core/matte/keys.ts
function outlineAt({ points, keys }, frame) {
  const last = keys[keys.length - 1];
  if (!last) return points;
  const next = keys.findIndex((k2) => k2.frame >= frame);
  if (next < 0) return last.points;
  const after = keys[next];
  const before = keys[next - 1];
  if (!before) return after.points;
  const t = (frame - before.frame) / (after.frame - before.frame);
  return after.points.map((q, i) => {
    const p2 = before.points[i];
    return { x: p2.x + t * (q.x - p2.x), y: p2.y + t * (q.y - p2.y) };
  });
}

// src/core/matte/levels.ts
function matteLevels(matte, { black, white, gamma = 1 }, allocate = fresh) {
  if (!(white > black)) throw new RangeError("The white point must lie above the black point.");
  const data = allocate(matte.data.length);
  pointwise("levels", [black, 1 / (white - black)], [matte.data], [data]);
  if (gamma !== 1) for (let i = 0; i < data.length; i++) data[i] = data[i] ** (1 / gamma);
  return { width: matte.width, height: matte.height, data };
}
function holdOut(matte, garbage, allocate = fresh) {
  const data = allocate(matte.data.length);
  pointwise("bounded", [], [matte.data, 0, garbage.data], [data]);
  return { width: matte.width, height: matte.height, data };
}
function holdIn(matte, held2, allocate = fresh) {
  const data = allocate(matte.data.length);
  pointwise("bounded", [], [matte.data, held2.data, 0], [data]);
  return { width: matte.width, height: matte.height, data };
}

// src/core/matte/owners.ts
function ownersOf(shares, matte) {
  const owners = new Float32Array(matte.length);
  for (let i = 0; i < matte.length; i++) {
    if (matte[i] <= 0) continue;
    let owner = 1;
    let most = 1;
    shares.forEach((share, k2) => {
      const own = share[i];
      most *= 1 - own;
      if (own > most) {
        owner = k2 + 2;
        most = own;
      }
    });
    owners[i] = owner;
  }
  return owners;
}

// src/core/matte/polygon.ts
var SUBROWS = 16;
function rasterisePolygon(points, width2, height2) {
  const data = new Float32Array(width2 * height2);
  if (points.length >= 3) {
    const partial = new Float32Array(width2 + 1);
    const steps = new Int32Array(width2 + 1);
    for (let y = 0; y < height2; y++) {
      partial.fill(0);
      steps.fill(0);
      let any = false;
      for (let s2 = 0; s2 < SUBROWS; s2++) any = addSubrow(points, y + (s2 + 0.5) / SUBROWS, partial, steps, width2) || any;
      if (!any) continue;
      let whole = 0;
      for (let x = 0; x < width2; x++) {
        whole += steps[x];
        data[y * width2 + x] = Math.min(1, (whole + partial[x]) / SUBROWS);
      }
    }
  }
  return { width: width2, height: height2, data };
}
function addSubrow(points, y, partial, steps, width2) {
  const crossings = [];
  for (let i = 0; i < points.length; i++) {
    const a2 = points[i];
    const b2 = points[(i + 1) % points.length];
    if (a2.y <= y === b2.y <= y) continue;
    crossings.push({ x: a2.x + (y - a2.y) / (b2.y - a2.y) * (b2.x - a2.x), winding: a2.y < b2.y ? 1 : -1 });
  }
  if (crossings.length < 2) return false;
  crossings.sort((p2, q) => p2.x - q.x);
  let winding = 0;
  for (let k2 = 0; k2 + 1 < crossings.length; k2++) {
    winding += crossings[k2].winding;
    if (winding === 0) continue;
    const x0 = Math.max(0, crossings[k2].x);
    const x1 = Math.min(width2, crossings[k2 + 1].x);
    if (x1 <= x0) continue;
    const first = Math.floor(x0);
    const last = Math.min(width2 - 1, Math.floor(x1));
    if (first === last) partial[first] = partial[first] + (x1 - x0);
    else {
      partial[first] = partial[first] + (first + 1 - x0);
      steps[first + 1] = steps[first + 1] + 1;
      steps[last] = steps[last] - 1;
      partial[last] = partial[last] + (x1 - last);
    }
  }
  return true;
}
var FLAT2 = 0.02;
function smoothOutline(points) {
  const n2 = points.length;
  if (n2 < 3) return [...points];
  const out = [];
  for (let k2 = 0; k2 < n2; k2++) {
    const [a2, b2, c, d] = [-1, 0, 1, 2].map((o) => points[(k2 + o + n2) % n2]);
    const bend = (p2) => Math.max(Math.abs(2 * a2[p2] - 5 * b2[p2] + 4 * c[p2] - d[p2]), Math.abs(-a2[p2] + 4 * b2[p2] - 5 * c[p2] + 2 * d[p2]));
    const pieces = Math.min(400, Math.max(1, Math.ceil(Math.sqrt(Math.hypot(bend("x"), bend("y")) / (8 * FLAT2)))));
    for (let s2 = 0; s2 < pieces; s2++) {
      const t = s2 / pieces;
      const at = (p2) => 0.5 * (2 * b2[p2] + (c[p2] - a2[p2]) * t + (2 * a2[p2] - 5 * b2[p2] + 4 * c[p2] - d[p2]) * t * t + (3 * b2[p2] - a2[p2] - 3 * c[p2] + d[p2]) * t * t * t);
      out.push({ x: at("x"), y: at("y") });
    }
  }
  return out;
}
var EDGE_SIGMAS = 5.152;
function shapesMatte(shapes, width2, height2, scale) {
  const data = new Float32Array(width2 * height2);
  for (const shape of shapes) {
    if (shape.points.length < 3) continue;
    const outline2 = shape.smooth ? smoothOutline(shape.points) : shape.points;
    const points = outline2.map((p2) => ({ x: p2.x * scale, y: p2.y * scale }));
    const hard = rasterisePolygon(points, width2, height2).data;
    const leaning = leanOutline(hard, width2, height2, 0.5 * shape.soft * scale * (shape.lean ?? 0));
    const soft = softOutline(leaning, width2, height2, shape.soft * scale / EDGE_SIGMAS);
    if (shape.out === "outside") pointwise("levels", [1, -1], [soft], [soft]);
    pointwise("bounded", [], [data, soft, 0], [data]);
  }
  return { width: width2, height: height2, data };
}
function leanOutline(hard, width2, height2, by) {
  if (Math.abs(by) < 0.05) return hard;
  const side = by > 0 ? 1 : 0;
  const distance = distanceTo(
    maskOf(hard, (v) => v >= 0.5 === by > 0),
    width2,
    height2
  );
  return distance.map((d) => {
    const reached = Math.min(1, Math.max(0, Math.abs(by) + 1 - d));
    return side ? reached : 1 - reached;
  });
}
function softOutline(hard, width2, height2, sigma) {
  if (sigma <= 0) return hard;
  const reach = Math.ceil(3 * sigma) + 1;
  const out = hard.slice();
  const tall = Math.max(32, 2 * reach);
  for (let top = 0; top < height2; top += tall) {
    const [y0, y1] = [Math.max(0, top - reach), Math.min(height2, top + tall + reach)];
    for (const [from, to] of changes(hard, width2, y0, y1, reach)) {
      const [x0, x1] = [Math.max(0, from - reach), Math.min(width2, to + reach)];
      const part = cropChannel(hard, width2, { x: x0, y: y0, width: x1 - x0, height: y1 - y0 });
      const blurred = wideBlur(part, x1 - x0, y1 - y0, sigma);
      for (let y = top; y < Math.min(height2, top + tall); y++)
        out.set(blurred.subarray((y - y0) * (x1 - x0) + from - x0, (y - y0) * (x1 - x0) + to - x0), y * width2 + from);
    }
  }
  return out;
}
function changes(mask, width2, y0, y1, reach) {
  const changed = new Uint8Array(width2);
  for (let y = y0; y < y1; y++)
    for (let x = 0; x < width2; x++) {
      const i = y * width2 + x;
      if (x > 0 && mask[i] !== mask[i - 1] || y > y0 && mask[i] !== mask[i - width2]) changed[x] = 1;
    }
  const runs = [];
  for (let x = 0; x < width2; x++) {
    if (!changed[x]) continue;
    const [from, to] = [Math.max(0, x - reach), Math.min(width2, x + reach + 1)];
    const last = runs[runs.length - 1];
    if (last && from <= last[1]) last[1] = to;
    else runs.push([from, to]);
  }
  return runs;
}

// src/core/matte/steady.ts
var EASE = 2;
var MEAN = 0.03;
var MEAN_RADIUS = 4;
function steadyMatte(now, nearby, amount, allocate = fresh) {
  const { width: width2, height: height2 } = now;
  const out = allocate(now.data.length);
  const weights = nearby.map(({ matte, still }) => stillness(now, matte, still));
  for (let i = 0; i < out.length; i++) {
    const m = now.data[i];
    let sum = 0;
    let total = 1;
    nearby.forEach(({ matte }, k2) => {
      const w = weights[k2][i];
      sum += w * (matte.data[i] - m);
      total += w;
    });
    out[i] = m + amount * sum / total;
  }
  return { width: width2, height: height2, data: out };
}
function stillness(now, other, still) {
  const { width: width2, height: height2 } = now;
  const [a2, b2] = [boxMean(now.data, width2, height2, MEAN_RADIUS), boxMean(other.data, width2, height2, MEAN_RADIUS)];
  const quiet = new Float32Array(still.length);
  for (let i = 0; i < quiet.length; i++) quiet[i] = still[i] && Math.abs(a2[i] - b2[i]) < MEAN ? 1 : 0;
  const eased = boxMean(quiet, width2, height2, EASE);
  return eased.map((v, i) => quiet[i] ? v : 0);
}
var SPECK = 0.04;
var MOVE = 4;
var SHOWN = 0.3;
function dropBlinking(now, nearby, area, allocate = fresh) {
  const { width: width2, height: height2 } = now;
  const out = allocate(now.data.length);
  out.set(now.data);
  if (nearby.length === 0) return { width: width2, height: height2, data: out };
  const pass = (over, settle) => {
    const mask = maskOf(now.data, over);
    const others = nearby.map((p2) => {
      const wide = boxMean(
        p2.data.map((m) => over(m) ? 1 : 0),
        width2,
        height2,
        MOVE
      );
      return wide;
    });
    const { labels, areas } = labelComponents(mask, width2, height2);
    const seen = areas.map(() => new Float32Array(nearby.length));
    for (let i = 0; i < labels.length; i++) {
      const l = labels[i];
      if (!l || areas[l] > area) continue;
      others.forEach((o, k2) => {
        if (o[i] > 0) seen[l][k2] = seen[l][k2] + 1;
      });
    }
    for (let i = 0; i < labels.length; i++) {
      const l = labels[i];
      if (!l || areas[l] > area) continue;
      if (seen[l].some((n2) => n2 >= SHOWN * areas[l])) continue;
      out[i] = settle(
        nearby.map((p2) => p2.data[i]),
        out[i]
      );
    }
  };
  pass(
    (m) => m > SPECK,
    (v, here) => Math.min(here, ...v)
  );
  pass(
    (m) => m < 1 - SPECK,
    (v, here) => Math.max(here, ...v)
  );
  return { width: width2, height: height2, data: out };
}

// src/core/matte/still.ts
var CHANNELS2 = ["r", "g", "b"];
var DEVIATIONS = 4;
var LEAST = 2e-3;
var MEDIAN_TO_SIGMA = 1.4826;
var RADIUS2 = 4;
var MOVED = 0.04;
function stillPlaces(before, after, isScreen) {
  const { width: width2, height: height2 } = before;
  const n2 = width2 * height2;
  const moved = new Float32Array(n2);
  for (const c of CHANNELS2) {
    const root = (p3) => boxMean(p3[c], width2, height2, 1).map((v) => Math.sqrt(Math.max(0, v)));
    const [p2, q] = [root(before), root(after)];
    const grain = [];
    for (let i = 0; i < n2; i += 3) if (isScreen(i)) grain.push(Math.abs(p2[i] - q[i]));
    const sigma = MEDIAN_TO_SIGMA * middleOf(Float32Array.from(grain), 0);
    const limit = Math.max(LEAST, DEVIATIONS * sigma);
    for (let i = 0; i < n2; i++) if (Math.abs(p2[i] - q[i]) > limit) moved[i] = 1;
  }
  return maskOf(boxMean(moved, width2, height2, RADIUS2), (v) => v < MOVED);
}

// src/core/measure/figures.ts
var HOLE_LEVEL = 0.99;
var RESIDUE_LEVEL = 0.01;
var CLEARANCE_LEVEL = 0.02;
var GONE = 1e-4;
var GAP_LEVEL = 0.05;
var GAP_AREA = 150;
var outlineMargin = (fullHeight) => Math.max(1.5, 3 * fullHeight / 1080);
function subjectOutline(pull2, areaScale) {
  const { width: width2, height: height2, data } = pull2;
  const n2 = data.length;
  const minArea = GAP_AREA / areaScale;
  const solid = new Uint8Array(n2);
  for (let i = 0; i < n2; i++) solid[i] = data[i] >= 0.5 ? 1 : 0;
  const islands = labelComponents(solid, width2, height2);
  const empty = new Uint8Array(n2);
  for (let i = 0; i < n2; i++) {
    if (solid[i] && islands.areas[islands.labels[i]] < minArea) solid[i] = 0;
    empty[i] = 1 - solid[i];
  }
  const gaps = labelComponents(empty, width2, height2);
  const sums = new Float64Array(gaps.areas.length);
  for (let i = 0; i < n2; i++) if (empty[i]) sums[gaps.labels[i]] += data[i];
  const fill = gaps.areas.map(
    (area, label) => label > 0 && !gaps.atBorder[label] && (area < minArea || sums[label] / area > GAP_LEVEL)
  );
  for (let i = 0; i < n2; i++) if (empty[i] && fill[gaps.labels[i]]) solid[i] = 1;
  return solid;
}
var THREAD = 0.08;
var WEAVE = 0.3;
function openWeave(matte, solid, radius) {
  const { width: width2, height: height2, data } = matte;
  const edges = new Float32Array(data.length);
  for (let y = 0; y < height2 - 1; y++)
    for (let x = 0; x < width2 - 1; x++) {
      const i = y * width2 + x;
      const m = data[i];
      if (solid[i] && (Math.abs(data[i + 1] - m) > THREAD || Math.abs(data[i + width2] - m) > THREAD)) edges[i] = 1;
    }
  const dense = boxMean(edges, width2, height2, radius);
  for (let i = 0; i < dense.length; i++) dense[i] = dense[i] > WEAVE ? 1 : 0;
  return maskOf(boxMean(dense, width2, height2, radius), (v) => v > 1e-6);
}
var invert = (mask) => maskOf(mask, (v) => v === 0);
function measureFigures(pull2, matte, garbage, scale, floor = 0.02) {
  const { width: width2, height: height2 } = pull2;
  const area = 1 / (scale * scale);
  const margin = Math.max(1.5, outlineMargin(height2 / scale) * scale);
  const solid = subjectOutline(pull2, area);
  const toOutside = distanceTo(invert(solid), width2, height2, margin + 1);
  const toInside = distanceTo(solid, width2, height2, margin + 1);
  const weave = openWeave(matte, solid, Math.max(6, Math.round(height2 * 9 / 720)));
  const marks = new Uint8Array(width2 * height2);
  const inside = new Uint8Array(width2 * height2);
  let holes2 = 0;
  let residue2 = 0;
  let soft = 0;
  let lost = 0;
  let clearance = Number.POSITIVE_INFINITY;
  const thrown = garbage ? distanceTo(
    maskOf(garbage.data, (v) => v > 0.5),
    width2,
    height2
  ) : void 0;
  for (let i = 0; i < marks.length; i++) {
    const m = matte.data[i];
    const out = garbage ? garbage.data[i] : 0;
    if (solid[i] && toOutside[i] > margin) {
      inside[i] = 1;
      if (m < HOLE_LEVEL && out < 0.5 && !weave[i]) {
        holes2++;
        marks[i] = 1;
      }
    } else if (!solid[i] && toInside[i] > margin && m > RESIDUE_LEVEL && out < 0.5) {
      residue2++;
      marks[i] = 2;
    }
    const raw2 = pull2.data[i];
    if (raw2 > floor && raw2 < 1 - floor && out < 0.5) {
      soft++;
      if (m <= GONE || m >= 1 - GONE) lost++;
    }
    if (thrown && raw2 > CLEARANCE_LEVEL && solid[i] && thrown[i] < clearance) clearance = thrown[i];
  }
  return {
    marks,
    inside,
    figures: {
      holes: Math.round(holes2 * area),
      residue: Math.round(residue2 * area),
      edgeLoss: soft ? lost / soft : 0,
      clearance: thrown && clearance < 1e9 ? clearance / scale : null,
      softBand: soft / marks.length
    }
  };
}
function measureSpill(removed, inside, screenExcess, nearScreen) {
  let sum = 0;
  let weight = 0;
  for (let i = 0; i < removed.length; i++) {
    if (!inside[i]) continue;
    const w = nearScreen ? 1 - nearScreen[i] : 1;
    sum += w * removed[i];
    weight += w;
  }
  return weight > 0 && screenExcess > 0 ? sum / weight / screenExcess : 0;
}

// src/core/scene/fit.ts
var FITS = ["fill", "whole", "stretch", "pixels"];
function fitPlacement(bw, bh, fw, fh, f2) {
  const kx = fw / bw;
  const ky = fh / bh;
  const even = f2.fit === "fill" ? Math.max(kx, ky) : f2.fit === "whole" ? Math.min(kx, ky) : 1;
  const scaleX = (f2.fit === "stretch" ? kx : even) * f2.scale;
  const scaleY = (f2.fit === "stretch" ? ky : even) * f2.scale;
  return { scaleX, scaleY, offsetX: (fw - bw * scaleX) / 2 + f2.x, offsetY: (fh - bh * scaleY) / 2 + f2.y };
}

// src/core/scene/over.ts
function straightOverOpaque(front, alpha, back, allocate = fresh) {
  const n2 = alpha.length;
  const out = { width: front.width, height: front.height, r: allocate(n2), g: allocate(n2), b: allocate(n2) };
  pointwise("over", [], [alpha, front.r, front.g, front.b, back.r, back.g, back.b], [out.r, out.g, out.b]);
  return out;
}

// src/core/image/guided.ts
function guidedFilter(source, guide, width2, height2, radius, epsilon) {
  const n2 = source.length;
  const mean = (v) => boxMean(v, width2, height2, radius);
  const product = (p2, q) => {
    const out2 = new Float32Array(n2);
    for (let i = 0; i < n2; i++) out2[i] = p2[i] * q[i];
    return out2;
  };
  const [mi, mp] = [mean(guide), mean(source)];
  const [ii, ip] = [mean(product(guide, guide)), mean(product(guide, source))];
  const a2 = new Float32Array(n2);
  const b2 = new Float32Array(n2);
  for (let i = 0; i < n2; i++) {
    const g = mi[i];
    const slope = (ip[i] - g * mp[i]) / (Math.max(0, ii[i] - g * g) + epsilon);
    a2[i] = slope;
    b2[i] = mp[i] - slope * g;
  }
  const [ma, mb] = [mean(a2), mean(b2)];
  const out = new Float32Array(n2);
  for (let i = 0; i < n2; i++) out[i] = ma[i] * guide[i] + mb[i];
  return out;
}

// src/core/screen/denoise.ts
var LUMA_RADIUS = 2;
var CHROMA_RADIUS = 4;
var KEEP = 1.5;
function denoise(picture, { luma, chroma }) {
  const { width: width2, height: height2 } = picture;
  const y = lumaOf(picture).data;
  const smooth = luma > 0 ? guidedFilter(y, y, width2, height2, LUMA_RADIUS, (KEEP * luma) ** 2) : y;
  const channel = (c) => {
    const colour = new Float32Array(c.length);
    for (let i = 0; i < c.length; i++) colour[i] = c[i] - y[i];
    const calm2 = chroma > 0 ? guidedFilter(colour, colour, width2, height2, CHROMA_RADIUS, (KEEP * chroma) ** 2) : colour;
    const out = new Float32Array(c.length);
    for (let i = 0; i < c.length; i++) out[i] = smooth[i] + calm2[i];
    return out;
  };
  return { width: width2, height: height2, r: channel(picture.r), g: channel(picture.g), b: channel(picture.b) };
}

// src/core/screen/denoise-over-time.ts
function denoiseOverTime(picture, nearby, amount) {
  const { width: width2, height: height2 } = picture;
  const channel = (c) => {
    const own = picture[c];
    const out = new Float32Array(own.length);
    for (let i = 0; i < out.length; i++) {
      const v = own[i];
      let sum = 0;
      let total = 1;
      for (const { picture: other, still } of nearby)
        if (still[i]) {
          sum += other[c][i] - v;
          total++;
        }
      out[i] = v + amount * sum / total;
    }
    return out;
  };
  return { width: width2, height: height2, r: channel("r"), g: channel("g"), b: channel("b") };
}

// src/core/color/lab.ts
var M = [
  [0.4124, 0.3576, 0.1805],
  [0.2126, 0.7152, 0.0722],
  [0.0193, 0.1192, 0.9505]
];
var WHITE = M.map(([r, g, b2]) => r + g + b2);
var EPSILON = 216 / 24389;
var KAPPA = 24389 / 27;
var f = (t) => t > EPSILON ? Math.cbrt(t) : (KAPPA * t + 16) / 116;
function linearToLab({ r, g, b: b2 }) {
  const x = f((M[0][0] * r + M[0][1] * g + M[0][2] * b2) / WHITE[0]);
  const y = f((M[1][0] * r + M[1][1] * g + M[1][2] * b2) / WHITE[1]);
  const z3 = f((M[2][0] * r + M[2][1] * g + M[2][2] * b2) / WHITE[2]);
  return { l: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z3) };
}

// src/core/key/chroma-distance.ts
function chromaDistance(picture, key, allocate = fresh) {
  const { screen, inner, outer, stretch } = key;
  if (!(outer > inner)) throw new RangeError("The outer radius must lie above the inner one.");
  const { width: width2, height: height2, r, g, b: b2 } = picture;
  const data = allocate(r.length);
  pointwise("chromaDistance", [inner, 1 / (outer - inner), stretch], [r, g, b2, ...centreOf(screen)], [data]);
  return { width: width2, height: height2, data };
}
function centreOf(screen) {
  if (isPicture(screen)) {
    const out = Array.from({ length: 4 }, () => new Float32Array(screen.r.length));
    pointwise("chroma", [], [screen.r, screen.g, screen.b], out);
    return out;
  }
  const { a: a2, b: b2 } = linearToLab(screen);
  const length = Math.hypot(a2, b2);
  return length > 1e-6 ? [a2, b2, a2 / length, b2 / length] : [a2, b2, 1, 0];
}

// src/core/screen/flatten.ts
var RANGE = { inner: 14, outer: 30, stretch: 2 };
var SATURATE = 1.25;
var SOFT = 1;
function flattenRange(picture, colour, { rounds, amount }) {
  const { width: width2, height: height2 } = picture;
  const y = luminance(colour);
  const target = (c) => Math.max(0, y + SATURATE * (colour[c] - y));
  let now = picture;
  for (let round = 0; round < rounds; round++) {
    const away = chromaDistance(now, { screen: colour, ...RANGE });
    const range = gaussianBlur(
      away.data.map((v) => 1 - v),
      width2,
      height2,
      SOFT
    );
    const channel = (c) => {
      const to = target(c);
      return now[c].map((v, i) => {
        const w = amount * Math.min(range[i], 1 - away.data[i]);
        return v + w * (to - v);
      });
    };
    now = { width: width2, height: height2, r: channel("r"), g: channel("g"), b: channel("b") };
  }
  return now;
}

// src/core/screen/level.ts
var CHANNELS3 = ["r", "g", "b"];
var isPicture2 = (s2) => s2.width !== void 0;
function levelPlate(plate, matte, screen, target, mix, garbage, allocate = fresh) {
  const { width: width2, height: height2 } = plate;
  const n2 = matte.data.length;
  const out = { width: width2, height: height2, r: allocate(n2), g: allocate(n2), b: allocate(n2) };
  const share = new Float32Array(n2);
  const m = matte.data;
  for (let i = 0; i < n2; i++) share[i] = mix * (1 - m[i]);
  if (garbage) for (let i = 0; i < n2; i++) share[i] = share[i] * (1 - garbage.data[i]);
  for (const c of CHANNELS3) {
    const from = plate[c];
    const to = out[c];
    const back = isPicture2(screen) ? screen[c] : null;
    const one = isPicture2(screen) ? 0 : screen[c];
    const wanted = target[c];
    if (back) for (let i = 0; i < n2; i++) to[i] = from[i] + share[i] * (wanted - back[i]);
    else for (let i = 0; i < n2; i++) to[i] = from[i] + share[i] * (wanted - one);
  }
  return out;
}

// src/core/spill/paint.ts
function paintColour(picture, strokes, frame, scale, allocate = fresh) {
  const { width: width2, height: height2 } = picture;
  const n2 = width2 * height2;
  const [cover, r, g, b2] = [allocate(n2), allocate(n2), allocate(n2), allocate(n2)];
  for (const c of [cover, r, g, b2]) c.fill(0);
  for (const stroke of strokes) {
    if (frame < stroke.first || frame > stroke.last) continue;
    const { colour } = stroke;
    const y = colour ? Math.max(1e-6, luminance(colour)) : 1;
    const ratio2 = colour && { r: colour.r / y, g: colour.g / y, b: colour.b / y };
    const radius = Math.max(0.5, stroke.radius * scale);
    const hard = radius * (1 - stroke.soft);
    const points = stroke.points.map((p2) => ({ x: p2.x * scale, y: p2.y * scale }));
    underStroke({ points, radius }, width2, height2, (i, d) => {
      const t = d <= hard ? 0 : (d - hard) / Math.max(1e-6, radius - hard);
      const a2 = stroke.strength * (1 - t * t * (3 - 2 * t));
      const keep = 1 - a2;
      cover[i] = cover[i] * keep + (ratio2 ? a2 : 0);
      r[i] = r[i] * keep + (ratio2 ? a2 * ratio2.r : 0);
      g[i] = g[i] * keep + (ratio2 ? a2 * ratio2.g : 0);
      b2[i] = b2[i] * keep + (ratio2 ? a2 * ratio2.b : 0);
    });
  }
  for (let i = 0; i < n2; i++) {
    const k2 = 1 - cover[i];
    const [pr, pg, pb] = [picture.r[i], picture.g[i], picture.b[i]];
    const y = luminance({ r: pr, g: pg, b: pb });
    r[i] = k2 * pr + y * r[i];
    g[i] = k2 * pg + y * g[i];
    b2[i] = k2 * pb + y * b2[i];
  }
  return { width: width2, height: height2, r, g, b: b2 };
}

// src/core/edge/carry-colour.ts
var OWN = 0.97;
function carryColour(colour, matte, amount, allocate = fresh) {
  const { width: width2, height: height2 } = colour;
  const weight = new Float32Array(matte.data.length);
  for (let i = 0; i < weight.length; i++) weight[i] = matte.data[i] >= OWN ? 1 : 0;
  const carried = [colour.r, colour.g, colour.b].map((c) => {
    const out = allocate(c.length);
    out.set(c);
    return out;
  });
  fillIn(carried, weight, width2, height2);
  [colour.r, colour.g, colour.b].forEach((from, k2) => {
    const out = carried[k2];
    for (let i = 0; i < out.length; i++) {
      if (weight[i] === 1) continue;
      const share = amount * (1 - matte.data[i]);
      out[i] = from[i] + share * (out[i] - from[i]);
    }
  });
  return { width: width2, height: height2, r: carried[0], g: carried[1], b: carried[2] };
}

// src/core/edge/edge-colour.ts
function edgeColour(plate, treated, matte, screen, amount, spill, allocate = fresh, ownShare) {
  const { width: width2, height: height2 } = plate;
  const n2 = matte.data.length;
  const out = { width: width2, height: height2, r: allocate(n2), g: allocate(n2), b: allocate(n2) };
  const { primary } = spill;
  const [un, vn] = otherChannels(primary);
  const taken = evenPutBack(spill) ? null : new Float32Array(n2);
  const channelsOf = (p2) => [p2[primary], p2[un], p2[vn]];
  pointwise(
    "screenOut",
    [...spillParameters(spill), amount],
    [...channelsOf(plate), ...channelsOf(treated), matte.data, ...channelsOf(screen), ownShare ?? 0],
    [out[primary], out[un], out[vn], taken]
  );
  if (taken) putBack(out, taken, spill);
  return out;
}

// src/core/edge/strand-fringe.ts
function strandFringe(matte, { strength, grow, soft }, allocate = fresh) {
  const { width: width2, height: height2 } = matte;
  const toSubject = distanceTo(
    maskOf(matte.data, (m) => m >= 0.5),
    width2,
    height2
  );
  const grown = new Float32Array(toSubject.length);
  for (let i = 0; i < grown.length; i++) grown[i] = Math.min(1, Math.max(0, grow + 0.5 - toSubject[i]));
  const copy = wideBlur(grown, width2, height2, soft);
  const data = allocate(copy.length);
  for (let i = 0; i < data.length; i++) {
    const m = matte.data[i];
    data[i] = m + (1 - m) * strength * copy[i];
  }
  return { width: width2, height: height2, data };
}

// src/core/key/clean-difference.ts
var LEAST2 = 5e-4;
function cleanDifference(picture, key, allocate = fresh) {
  const { screen, noise, at, inner, outer } = key;
  if (!(outer > inner)) throw new RangeError("The outer threshold must lie above the inner one.");
  const { width: width2, height: height2 } = picture;
  const data = allocate(picture.r.length).fill(0);
  const back = isPicture(screen) ? screen : null;
  for (const c of ["r", "g", "b"]) {
    const [own, behind] = [picture[c], back?.[c]];
    const one = back ? 0 : screen[c];
    const variance = Math.max(LEAST2, noise[c]) ** 2 / Math.max(1e-4, at[c]);
    for (let i = 0; i < data.length; i++) {
      const b2 = behind ? behind[i] : one;
      const d = own[i] - b2;
      data[i] = data[i] + d * d / (variance * Math.max(0.01, b2));
    }
  }
  const k2 = 1 / (outer - inner);
  for (let i = 0; i < data.length; i++) {
    const m = (Math.sqrt(data[i]) - inner) * k2;
    data[i] = m < 0 ? 0 : m > 1 ? 1 : m;
  }
  return { width: width2, height: height2, data };
}

// src/core/key/colour-ranges.ts
function describe(r, g, b2) {
  const code = { r: linearToSrgb(Math.max(0, r)), g: linearToSrgb(Math.max(0, g)), b: linearToSrgb(Math.max(0, b2)) };
  const { h, s: s2 } = rgbToHsv(code);
  return { h, s: s2, l: luminance(code) };
}
function within(value, from, to, shoulder) {
  const beyond = Math.max(from - value, value - to);
  if (beyond <= 0) return 1;
  return shoulder <= 0 || beyond >= shoulder ? 0 : 1 - beyond / shoulder;
}
var angle = (p2, q) => Math.abs((p2 - q + 540) % 360 - 180);
function inRange(c, range, softness) {
  return Math.min(
    within(angle(c.h, range.hue), 0, range.hueReach, 120 * softness),
    within(c.s, range.saturation[0], range.saturation[1], softness),
    within(c.l, range.luma[0], range.luma[1], softness)
  );
}
function colourRanges(picture, key, allocate = fresh) {
  const added = key.ranges.filter((r2) => !r2.take);
  const taken = key.ranges.filter((r2) => r2.take);
  if (added.length === 0) throw new RangeError("No range yet: sample the screen's colours in Pull.");
  const { width: width2, height: height2, r, g, b: b2 } = picture;
  const data = allocate(r.length);
  const most = (c, ranges) => {
    let top = 0;
    for (const range of ranges) top = Math.max(top, inRange(c, range, key.softness));
    return top;
  };
  for (let i = 0; i < data.length; i++) {
    const c = describe(r[i], g[i], b2[i]);
    const screen = most(c, added);
    data[i] = 1 - (screen > 0 && taken.length ? screen * (1 - most(c, taken)) : screen);
  }
  return { width: width2, height: height2, data };
}

// src/core/key/luminance-pull.ts
function luminancePull(picture, { empty, solid }, allocate = fresh) {
  if (Math.abs(solid - empty) < 1e-4) throw new RangeError("The two levels of a luminance pull must differ.");
  const { width: width2, height: height2, r, g, b: b2 } = picture;
  const data = allocate(r.length);
  const k2 = 1 / (solid - empty);
  for (let i = 0; i < data.length; i++) {
    const level2 = linearToSrgb(Math.max(0, luminance({ r: r[i], g: g[i], b: b2[i] })));
    const m = (level2 - empty) * k2;
    data[i] = m < 0 ? 0 : m > 1 ? 1 : m;
  }
  return { width: width2, height: height2, data };
}

// src/core/key/unmix.ts
var LEAST_FLOOR = 0.01;
var RAYS = 12;
var TOLERANCE = 0.022;
var GRAINY = 1.4;
var MOST_FLOOR = 0.025;
var FAR2 = 1.3;
var DEEPER = 1 / 12;
var NEARLY = 0.8;
var PRIOR = 0.25;
var HOPELESS = 30;
var rounded = (v) => (v + 16384.5 | 0) - 16384;
function unmix(plate, key, allocate = fresh) {
  const { prior: prior2, screen, reach, follow } = key;
  const { width: width2, height: height2 } = plate;
  const n2 = width2 * height2;
  const back = isPicture(screen) ? screen : null;
  const empty = Math.max(LEAST_FLOOR, key.floor);
  const solid = 1 - (key.waver || 1.5 * empty);
  const around2 = boxMean(prior2.data, width2, height2, 1);
  const calm2 = key.floor > 0 ? 1 - 1.5 * empty : Number.POSITIVE_INFINITY;
  const firm = new Uint8Array(n2);
  const certain = new Uint8Array(n2);
  for (let i = 0; i < n2; i++) {
    const a2 = prior2.data[i];
    if (a2 >= solid) certain[i] = firm[i] = 1;
    else if (a2 > NEARLY && around2[i] >= calm2) firm[i] = 1;
  }
  const tolerance = TOLERANCE + GRAINY * Math.min(MOST_FLOOR, key.floor);
  const deeper = DEEPER * reach;
  const toCertain = distanceTo(certain, width2, height2, reach + 1);
  const known = new Uint8Array(n2);
  const [FR, FG, FB] = [new Float32Array(n2), new Float32Array(n2), new Float32Array(n2)];
  const meet = (j) => {
    known[j] = 1;
    const x = j % width2;
    let [r, g, b2, count] = [0, 0, 0, 0];
    for (let row = Math.max(0, j - x - width2); row <= j - x + width2 && row < n2; row += width2)
      for (let i = row + Math.max(0, x - 1); i <= row + Math.min(width2 - 1, x + 1); i++) {
        if (!certain[i]) continue;
        r += plate.r[i];
        g += plate.g[i];
        b2 += plate.b[i];
        count++;
      }
    FR[j] = r / count;
    FG[j] = g / count;
    FB[j] = b2 / count;
  };
  const angles = Float64Array.from({ length: RAYS }, (_, k2) => 2 * Math.PI * (k2 + 0.5) / RAYS);
  const [DX, DY] = [angles.map(Math.cos), angles.map(Math.sin)];
  const fade = FAR2 / reach;
  const perTolerance = 1 / (tolerance * tolerance);
  const data = allocate(n2);
  for (let i = 0; i < n2; i++) {
    const a2 = prior2.data[i];
    data[i] = key.floor > 0 && a2 <= empty ? 0 : key.floor > 0 && firm[i] ? 1 : a2;
  }
  const unknown = new Uint8Array(n2);
  const [R2, G2, B2] = [plate.r, plate.g, plate.b];
  for (let y = 0; y < height2; y++)
    for (let x = 0; x < width2; x++) {
      const i = y * width2 + x;
      const first = prior2.data[i];
      if (first <= empty || firm[i] || toCertain[i] > reach) continue;
      unknown[i] = 1;
      const br = back ? back.r[i] : screen.r;
      const bg = back ? back.g[i] : screen.g;
      const bb = back ? back.b[i] : screen.b;
      const cr = R2[i] - br;
      const cg = G2[i] - bg;
      const cb = B2[i] - bb;
      const nearest = Math.max(1, toCertain[i]);
      let sum = 0;
      let total = 0;
      let least = HOPELESS;
      for (let k2 = 0; k2 < RAYS; k2++) {
        const dx = DX[k2];
        const dy = DY[k2];
        let t = nearest;
        let j = -1;
        while (t <= 2 * reach) {
          const px2 = rounded(x + t * dx);
          const py = rounded(y + t * dy);
          if (px2 < 0 || py < 0 || px2 >= width2 || py >= height2) break;
          const q = py * width2 + px2;
          const step = toCertain[q];
          if (step === 0) {
            j = q;
            break;
          }
          t += step > 1 ? step : 1;
        }
        if (j < 0) continue;
        const qx = rounded(x + (t + deeper) * dx);
        const qy = rounded(y + (t + deeper) * dy);
        if (qx >= 0 && qy >= 0 && qx < width2 && qy < height2 && certain[qy * width2 + qx]) j = qy * width2 + qx;
        if (!known[j]) meet(j);
        const fr = FR[j] - br;
        const fg = FG[j] - bg;
        const fb = FB[j] - bb;
        const square = fr * fr + fg * fg + fb * fb;
        if (square < 1e-6) continue;
        let a2 = (cr * fr + cg * fg + cb * fb) / square;
        a2 = a2 < 0 ? 0 : a2 > 1 ? 1 : a2;
        const er = cr - a2 * fr;
        const eg = cg - a2 * fg;
        const eb = cb - a2 * fb;
        const cost = (er * er + eg * eg + eb * eb) / square * perTolerance;
        if (cost >= HOPELESS) continue;
        const w = Math.exp(-cost - fade * t);
        sum += w * a2;
        total += w;
        if (cost < least) least = cost;
      }
      if (total > 0) {
        const best = Math.exp(-least);
        const trust = best / (best + PRIOR * (1 - best) ** 2);
        data[i] = trust * (sum / total) + (1 - trust) * first;
      }
    }
  if (follow <= 0) return { width: width2, height: height2, data };
  const smooth = guidedFilter(data, lumaOf(plate).data, width2, height2, 1, 1e-5);
  for (let i = 0; i < n2; i++)
    if (unknown[i]) data[i] = (1 - follow) * data[i] + follow * Math.min(1, Math.max(0, smooth[i]));
  return { width: width2, height: height2, data };
}

// src/core/key/pulls.ts
var subjectAware = ({ plate, screen, primary, own }, { weight }, allocate) => subjectDifference(plate, { primary, weight, screen }, own(), allocate);
function grainOf(plate, primary) {
  const { mask } = screenMask(plate, primary);
  const of = (c) => blockNoise(plate[c], mask, plate.width, plate.height);
  return { r: of("r"), g: of("g"), b: of("b") };
}
var PULLS = {
  "colour-difference": ({ plate, colour, screen, primary }, { weight }, allocate) => screen === colour ? colourDifference(plate, { screen: colour, primary, weight }, allocate) : subjectDifference(plate, { primary, weight, screen }, null, allocate),
  "subject-difference": subjectAware,
  unmix: (sources, settings, allocate) => {
    const { reach, follow, floor, waver } = settings.unmix;
    const prior2 = subjectAware(sources, settings, fresh);
    return unmix(
      sources.plate,
      { screen: sources.screen, prior: prior2, reach: Math.max(2, reach * sources.scale), follow, floor, waver },
      allocate
    );
  },
  "chroma-distance": ({ plate, screen }, { chroma }, allocate) => chromaDistance(plate, { screen, ...chroma }, allocate),
  "colour-ranges": ({ plate }, { ranges, softness }, allocate) => colourRanges(plate, { ranges, softness }, allocate),
  "clean-difference": ({ plate, screen, colour, primary }, { deviations }, allocate) => cleanDifference(plate, { screen, noise: grainOf(plate, primary), at: colour, ...deviations }, allocate),
  luminance: ({ plate }, { luminance: luminance2 }, allocate) => luminancePull(plate, luminance2, allocate)
};

// src/core/matte/auto-bounds.ts
var GAP = 0.4;
var CROWD = 0.06;
var ramp = (v) => v <= 0 ? 0 : v >= 1 ? 1 : v * v * (3 - 2 * v);
function automaticBounds(pull2, settings, scale, allocate = fresh) {
  const { width: width2, height: height2 } = pull2;
  const n2 = pull2.data.length;
  const calm2 = boxMean(pull2.data, width2, height2, 1);
  const area = scale * scale;
  const present2 = new Uint8Array(n2);
  for (let i = 0; i < n2; i++) present2[i] = calm2[i] > settings.outLevel ? 1 : 0;
  const islands = labelComponents(present2, width2, height2);
  const sizes = new Float64Array(islands.areas.length);
  for (let i = 0; i < n2; i++) if (pull2.data[i] > settings.outLevel) sizes[islands.labels[i]]++;
  const least = Math.max(settings.specks, settings.islands) * area;
  for (let i = 0; i < n2; i++) if (present2[i] && sizes[islands.labels[i]] <= least) present2[i] = 0;
  const grow = Math.max(1, settings.grow * scale);
  const shrink = Math.max(1, settings.shrink * scale);
  const soft = Math.max(0.5, settings.soft * scale);
  const toPresent = distanceTo(present2, width2, height2, grow + soft + 1);
  const thin2 = new Uint8Array(n2);
  for (let i = 0; i < n2; i++) thin2[i] = calm2[i] < settings.inLevel ? 1 : 0;
  const places2 = labelComponents(thin2, width2, height2);
  const lowest = new Float32Array(places2.areas.length).fill(1);
  for (let i = 0; i < n2; i++) {
    const label = places2.labels[i];
    if (label) lowest[label] = Math.min(lowest[label], calm2[i]);
  }
  const crowd = boxMean(new Float32Array(thin2), width2, height2, Math.ceil(2 * shrink));
  const crowded = new Float64Array(places2.areas.length);
  for (let i = 0; i < n2; i++) crowded[places2.labels[i]] += crowd[i];
  const window = (2 * Math.ceil(2 * shrink) + 1) ** 2;
  const closed = places2.areas.map((size, label) => {
    if (label === 0 || places2.atBorder[label]) return false;
    const own = Math.min(1, size / window);
    const others = crowded[label] / size - own;
    if (others > CROWD) return false;
    return size <= settings.specks * area || lowest[label] > GAP;
  });
  for (let i = 0; i < n2; i++) if (closed[places2.labels[i]]) thin2[i] = 0;
  const toThin = distanceTo(thin2, width2, height2, shrink + soft + 1);
  const out = allocate(n2);
  const held2 = allocate(n2);
  for (let i = 0; i < n2; i++) {
    out[i] = ramp((toPresent[i] - grow) / soft);
    held2[i] = ramp((toThin[i] - shrink) / soft);
  }
  return { out, in: held2 };
}
function applyBounds(matte, bounds, allocate = fresh) {
  const data = allocate(matte.data.length);
  pointwise("bounded", [], [matte.data, bounds.in, bounds.out], [data]);
  return { width: matte.width, height: matte.height, data };
}

// src/core/matte/combine.ts
var COMBINES = ["join", "cut", "within", "replace"];
function level(a2, m, { how, softly }) {
  switch (how) {
    case "join":
      return softly ? 1 - (1 - a2) * (1 - m) : Math.max(a2, m);
    case "cut":
      return softly ? a2 * (1 - m) : Math.min(a2, 1 - m);
    case "within":
      return softly ? a2 * m : Math.min(a2, m);
    case "replace":
      return m;
  }
}
function combineMattes(before, pass, combination, region, allocate = fresh) {
  const { width: width2, height: height2 } = before;
  if (pass.width !== width2 || pass.height !== height2)
    throw new RangeError(`Sizes differ: ${width2}\xD7${height2} and ${pass.width}\xD7${pass.height}.`);
  const data = allocate(before.data.length);
  const share = allocate(before.data.length);
  const { how } = combination;
  for (let i = 0; i < data.length; i++) {
    const a2 = before.data[i];
    const r = region ? region[i] : 1;
    const out = a2 + r * (level(a2, pass.data[i], combination) - a2);
    data[i] = out;
    share[i] = how === "replace" ? r : how === "join" && out > a2 ? (out - a2) / out : 0;
  }
  return { matte: { width: width2, height: height2, data }, share };
}

// src/core/spill/own-colour.ts
var WIDTH3 = 480;
var SOLID2 = 0.97;
var DEPTHS = [8, 4, 2.5];
var ENOUGH = 3e-3;
var SURFACE = 6;
var DARK = 1e-3;
var STRAW = 40 / 60 - 1 / 2;
var YELLOW = 1 / 2;
var SATURATED_FROM = 0.5;
var SATURATED = 0.9;
function believedMost(u, v) {
  const span = Math.abs(u - v);
  const saturation = span / Math.max(1e-6, u, v);
  const full = Math.min(1, Math.max(0, (saturation - SATURATED_FROM) / (SATURATED - SATURATED_FROM)));
  return 0.5 * (u + v) + (STRAW + full * (YELLOW - STRAW)) * span;
}
function ownExcess(plate, matte, { primary, limit, mix, nearScreen }, allocate = fresh) {
  const factor = Math.max(1, Math.round(plate.width / WIDTH3));
  const small = shrinkPicture(plate, factor);
  const { width: width2, height: height2 } = small;
  const cover = shrinkChannel(matte.data, matte.width, matte.height, factor);
  const depth = distanceTo(
    maskOf(cover, (m) => m < SOLID2),
    width2,
    height2
  );
  const [un, vn] = otherChannels(primary);
  const [p2, u, v] = [small[primary], small[un], small[vn]];
  const light = new Float32Array(depth.length);
  for (let i = 0; i < light.length; i++)
    light[i] = luminance({ r: small.r[i], g: small.g[i], b: small.b[i] });
  const deepFrom = (least) => {
    const weight2 = new Float32Array(depth.length);
    let count = 0;
    for (let i = 0; i < weight2.length; i++)
      if (depth[i] > least && light[i] > DARK) {
        weight2[i] = 1;
        count++;
      }
    return count >= ENOUGH * weight2.length ? weight2 : null;
  };
  let weight = null;
  for (const least of DEPTHS) weight ??= deepFrom(least);
  if (!weight) return null;
  const hue = nearScreen && shrinkChannel(nearScreen, plate.width, plate.height, factor);
  const own = new Float32Array(depth.length);
  const beyond = beyondChannels(limit, mix);
  for (let i = 0; i < own.length; i++)
    if (weight[i]) {
      const [P, U, V] = [p2[i], u[i], v[i]];
      const most = believedMost(U, V);
      const believed = P <= most || beyond ? P : most + (hue ? hue[i] : 0) * (P - most);
      own[i] = Math.max(0, (believed - neutralLimit(U, V, limit, mix)) / light[i]);
    }
  const around2 = (c) => boxMean(c, width2, height2, SURFACE);
  const total = around2(weight);
  const mean = around2(own);
  const square = around2(own.map((q) => q * q));
  for (let i = 0; i < own.length; i++) {
    if (!weight[i]) continue;
    const t = total[i];
    const m = mean[i] / t;
    const sd = Math.sqrt(Math.max(0, square[i] / t - m * m));
    own[i] = Math.max(0, Math.min(own[i], m - sd));
  }
  fillIn([own], weight, width2, height2);
  const out = allocate(plate.width * plate.height);
  enlargeChannel(own, width2, height2, factor, plate.width, plate.height, out);
  return out;
}

// src/core/spill/refill.ts
var TRUSTED = 0.03;
var DRAINED = 0.12;
var FULL = 0.8;
var LEAST3 = 1e-3;
function refillColour(treated, removed, unit, amount, reach, allocate = fresh) {
  const { width: width2, height: height2, r, g, b: b2 } = treated;
  const n2 = r.length;
  const luma = new Float32Array(n2);
  const trust = new Float32Array(n2);
  const lost = new Float32Array(n2);
  for (let i = 0; i < n2; i++) {
    const y = Math.max(0, luminance({ r: r[i], g: g[i], b: b2[i] }));
    luma[i] = y;
    const share = removed[i] * unit / Math.max(1e-5, y);
    trust[i] = y > 1e-3 ? Math.min(1, Math.max(0, (DRAINED - share) / (DRAINED - TRUSTED))) : 0;
    lost[i] = 1 - trust[i];
  }
  const blur = (c) => wideBlur(c, width2, height2, Math.max(1, reach));
  const around2 = (c) => blur(c.map((v, i) => v * trust[i]));
  const [ar, ag, ab, ay, weight] = [around2(r), around2(g), around2(b2), around2(luma), blur(trust)];
  const out = { width: width2, height: height2, r: allocate(n2), g: allocate(n2), b: allocate(n2) };
  for (let i = 0; i < n2; i++) {
    const [pr, pg, pb] = [r[i], g[i], b2[i]];
    out.r[i] = pr;
    out.g[i] = pg;
    out.b[i] = pb;
    const y = luma[i];
    const wy = ay[i];
    if (lost[i] === 0 || weight[i] < LEAST3 || y <= 1e-3 || wy <= 1e-6) continue;
    const [nr, ng, nb] = [ar[i] * y / wy, ag[i] * y / wy, ab[i] * y / wy];
    const own = Math.max(pr, pg, pb) - Math.min(pr, pg, pb);
    const wanted = Math.max(nr, ng, nb) - Math.min(nr, ng, nb);
    const lacks = wanted > 1e-6 ? Math.min(1, Math.max(0, 1 - own / (FULL * wanted))) : 0;
    const k2 = amount * lost[i] * lacks;
    out.r[i] = pr + k2 * (nr - pr);
    out.g[i] = pg + k2 * (ng - pg);
    out.b[i] = pb + k2 * (nb - pb);
  }
  return out;
}

// src/core/recipe/step-key.ts
function hash(text) {
  let h = 2166136261;
  let g = 461845907;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    h = Math.imul(h ^ c, 16777619);
    g = Math.imul(g ^ c, 2246822507) ^ g >>> 13;
  }
  return (h >>> 0).toString(36) + (g >>> 0).toString(36);
}
var keyOf = (...parts) => hash(JSON.stringify(parts));

// src/core/recipe/pass-steps.ts
var REFILL_REACH = 1 / 40;
function passSteps(frame, pass) {
  const { cache, allocate, scale, plate, plateKey, prepared, preparedKey, screen, primary, against, cleanKey } = frame;
  const { method, weight } = pass.pull;
  const plane = (name, key, make) => cache.step(name, key, () => {
    const made = make();
    return { value: made, owned: [made.data] };
  });
  const pullKey = keyOf(preparedKey, cleanKey, screen, pass.pull);
  const subjectKey = keyOf(preparedKey, cleanKey, screen, weight, "own");
  const own = () => cache.step("own", subjectKey, () => {
    const value = subjectExcess(prepared(), { primary, weight, screen: against() }, allocate);
    return { value, owned: value ? [value.excess, value.nearScreen] : [] };
  });
  const pull2 = () => plane(
    "pull",
    pullKey,
    () => PULLS[method]({ plate: prepared(), colour: screen, screen: against(), primary, own, scale }, pass.pull, allocate)
  );
  const { bounds: auto, shift, soften, softenBlur, black, white, gamma } = pass.matte;
  const autoKey = keyOf(pullKey, auto);
  const bounds = () => auto.on ? cache.step("autoBounds", autoKey, () => {
    const value = automaticBounds(pull2(), auto, scale, allocate);
    return { value, owned: [value.out, value.in] };
  }) : void 0;
  const levelsKey = keyOf(pullKey, black, white, gamma);
  const leveled = () => plane("matte", levelsKey, () => matteLevels(pull2(), { black, white, gamma }, allocate));
  const boundedKey = auto.on ? keyOf(levelsKey, autoKey) : levelsKey;
  const bounded = () => {
    const b2 = bounds();
    return b2 ? plane("bounded", boundedKey, () => applyBounds(leveled(), b2, allocate)) : leveled();
  };
  const wideKey = softenBlur > 0 ? keyOf(boundedKey, softenBlur) : boundedKey;
  const widened = () => softenBlur > 0 ? plane("softenBlur", wideKey, () => softenWideGreys(bounded(), softenBlur * scale, scale, allocate)) : bounded();
  const edgedKey = shift !== 0 || soften > 0 ? keyOf(wideKey, shift, soften) : wideKey;
  const edged = () => edgedKey === wideKey ? widened() : plane("edgeShift", edgedKey, () => adjustEdge(widened(), shift * scale, soften * scale, allocate));
  const { fringe } = pass.edge;
  const matteKey = fringe.strength > 0 ? keyOf(edgedKey, fringe) : edgedKey;
  const matte = () => fringe.strength > 0 ? plane(
    "fringe",
    matteKey,
    () => strandFringe(edged(), { ...fringe, grow: fringe.grow * scale, soft: fringe.soft * scale }, allocate)
  ) : edged();
  const { protect, refill, ...limits } = pass.spill;
  const light = limits.replace === "background" ? frame.light() : void 0;
  const settings = { ...limits, primary, screen, ...light ? { light: light.picture } : {} };
  const ownKey = keyOf(plateKey, pullKey, subjectKey, limits.limit, limits.mix, protect);
  const surface = () => protect > 0 ? cache.step("surface", ownKey, () => {
    const value = ownExcess(
      plate,
      pull2(),
      { primary, limit: limits.limit, mix: limits.mix, nearScreen: own()?.nearScreen },
      allocate
    );
    if (value && protect < 1) for (let i = 0; i < value.length; i++) value[i] = protect * value[i];
    return { value, owned: value ? [value] : [] };
  }) ?? void 0 : void 0;
  const limitKey = keyOf(plateKey, limits, primary, screen, protect > 0 ? ownKey : null, light?.key ?? null);
  const limited = () => cache.step("spill", limitKey, () => {
    const treated = limitSpill(plate, settings, allocate, surface());
    const fresh2 = channels(treated.picture).filter((c) => c !== plate.r && c !== plate.g && c !== plate.b);
    return { value: treated, owned: [treated.removed, ...fresh2] };
  });
  const spillKey = refill > 0 ? keyOf(limitKey, refill) : limitKey;
  const spill = () => refill > 0 ? cache.step("refill", spillKey, () => {
    const { picture, removed } = limited();
    const filled = refillColour(picture, removed, unitLuminance(primary), refill, REFILL_REACH * plate.height, allocate);
    return { value: { picture: filled, removed }, owned: channels(filled) };
  }) : limited();
  const heldKey = keyOf(edgedKey, frame.holdouts?.key ?? null);
  const held2 = () => {
    const { holdouts } = frame;
    return holdouts ? plane("held", heldKey, () => holdIn(edged(), holdouts.plane(), allocate)) : edged();
  };
  const { screenOut } = pass.edge;
  const edgeKey = keyOf(spillKey, heldKey, screen, cleanKey, screenOut);
  const unmixed = () => screenOut > 0 ? cache.step("edge", edgeKey, () => {
    const picture = edgeColour(plate, spill().picture, held2(), against(), screenOut, settings, allocate, surface());
    return { value: picture, owned: channels(picture) };
  }) : spill().picture;
  const carry = fringe.strength > 0 ? 1 : pass.edge.carry;
  const colourKey = keyOf(edgeKey, carry);
  const colour = () => carry > 0 ? cache.step("carry", colourKey, () => {
    const picture = carryColour(unmixed(), held2(), carry, allocate);
    return { value: picture, owned: channels(picture) };
  }) : unmixed();
  const looksForHue = method === "subject-difference" || method === "unmix";
  const nearScreen = () => looksForHue ? own()?.nearScreen : void 0;
  return { pullKey, pull: pull2, nearScreen, bounds, matteKey, matte, spillKey, spill, colourKey, colour };
}
var OPEN = 0.25;
function join(frame, passes, name, keys, planes) {
  const { cache, allocate, scale } = frame;
  let key = keys[0];
  let plane = planes[0]();
  const shares = [];
  for (let k2 = 1; k2 < passes.length; k2++) {
    const { combine, softly, region } = passes[k2];
    const before = plane;
    key = keyOf(key, keys[k2], combine, softly, region);
    const made = cache.step(name, key, () => {
      const next = planes[k2]();
      const where = region.kind === "left" ? before.data.map((m) => Math.min(1, (1 - m) / OPEN)) : region.kind === "drawn" ? shapesMatte([{ ...region, kind: "holdout", out: "inside" }], next.width, next.height, scale).data : void 0;
      const value = combineMattes(before, next, { how: combine, softly }, where, allocate);
      return { value, owned: [value.matte.data, value.share] };
    });
    plane = made.matte;
    shares.push(made.share);
  }
  return { key, plane, shares };
}
var joinPasses = (frame, passes, runs) => join(
  frame,
  passes,
  "join",
  runs.map((r) => r.matteKey),
  runs.map((r) => r.matte)
);
var joinPulls = (frame, passes, runs) => join(
  frame,
  passes,
  "joinPulls",
  runs.map((r) => r.pullKey),
  runs.map((r) => r.pull)
);
function joinColours(frame, runs, joined) {
  const { cache, allocate } = frame;
  let key = runs[0].colourKey;
  let picture = runs[0].colour();
  runs.slice(1).forEach((run2, k2) => {
    const before = picture;
    const share = joined.shares[k2];
    key = keyOf(key, run2.colourKey, joined.key, k2);
    picture = cache.step("joinColours", key, () => {
      const own = run2.colour();
      const mixed = (c) => {
        const out = allocate(share.length);
        for (let i = 0; i < out.length; i++)
          out[i] = before[c][i] + share[i] * (own[c][i] - before[c][i]);
        return out;
      };
      const value = { width: own.width, height: own.height, r: mixed("r"), g: mixed("g"), b: mixed("b") };
      return { value, owned: channels(value) };
    });
  });
  return { key, picture };
}

// src/core/image/pool.ts
var PlanePool = class {
  /** @param maxBytes most bytes kept while unused; what exceeds it is left to the garbage collector. */
  constructor(maxBytes = 512 * 1024 * 1024) {
    this.maxBytes = maxBytes;
  }
  free = /* @__PURE__ */ new Map();
  heldBytes = 0;
  /** Buffers allocated because none was free; flat in steady state. */
  allocated = 0;
  /** A buffer of exactly `length` floats; its contents are whatever they were. */
  take(length) {
    const list = this.free.get(length);
    const buffer = list?.pop();
    if (buffer) {
      this.heldBytes -= buffer.byteLength;
      return buffer;
    }
    this.allocated++;
    return new Float32Array(length);
  }
  give(...buffers) {
    for (const buffer of buffers) {
      if (!buffer || buffer.byteLength + this.heldBytes > this.maxBytes) continue;
      const list = this.free.get(buffer.length);
      if (list) list.push(buffer);
      else this.free.set(buffer.length, [buffer]);
      this.heldBytes += buffer.byteLength;
    }
  }
};

// src/core/recipe/step-cache.ts
var StepCache = class {
  constructor(maxBytes = 768 * 1024 * 1024) {
    this.maxBytes = maxBytes;
  }
  pool = new PlanePool();
  entries = /* @__PURE__ */ new Map();
  bytes = 0;
  /** Steps computed since the start, by name: for tests and for showing what a change cost. */
  computed = {};
  /**
   * The value for `name` and `key`, computed when it is not at hand.
   * @param compute returns the value and the buffers that belong to it alone
   */
  step(name, key, compute) {
    const full = `${name}:${key}`;
    const found2 = this.entries.get(full);
    if (found2) {
      this.entries.delete(full);
      this.entries.set(full, found2);
      return found2.value;
    }
    this.computed[name] = (this.computed[name] ?? 0) + 1;
    const { value, owned } = compute();
    const bytes = owned.reduce((n2, b2) => n2 + b2.byteLength, 0);
    this.entries.set(full, { value, owned, bytes });
    this.bytes += bytes;
    return value;
  }
  /** Lets go of what exceeds the bound. */
  trim() {
    for (const [key, entry] of this.entries) {
      if (this.bytes <= this.maxBytes) break;
      this.entries.delete(key);
      this.bytes -= entry.bytes;
      this.pool.give(...entry.owned);
    }
  }
};

// src/core/recipe/evaluate.ts
var looksAtBackground = (recipe2, outputs) => outputs.includes("composite") || outputs.includes("background") || recipe2.passes.some((p2) => p2.on && p2.spill.replace === "background");
var NoScreenError = class extends Error {
  constructor() {
    super("No screen colour yet: sample the screen first.");
  }
};
function evaluate(recipe2, sources, request, cache = new StepCache()) {
  cache.trim();
  const wantsMatte = request.outputs.some(
    (o) => o === "matte" || o === "owners" || o === "foreground" || o === "composite" || o === "figures"
  );
  const looks = wantsMatte && recipe2.screen.colour && (recipe2.time.steady > 0 || recipe2.time.blinking > 0);
  const nearby = looks ? mattesNearby(recipe2, sources, request, cache) : [];
  return runSteps(recipe2, sources, request, cache, nearby);
}
function mattesNearby(recipe2, sources, { reduce }, cache) {
  const alone = { ...recipe2, time: { steady: 0, blinking: 0 }, paint: [] };
  const made = (sources.nearby ?? []).map(({ frame, source }) => {
    const { nearby: _, ...rest } = sources;
    const behind = looksAtBackground(alone, ["matte"]) ? sources.background?.key ?? null : null;
    const key = keyOf(source.key, sources.clean?.key ?? null, behind, { ...alone, scene: null }, frame, reduce);
    const matte = cache.step("nearbyMatte", key, () => {
      const plane = runSteps(alone, { ...rest, plate: source }, { reduce, outputs: ["matte"], frame }, cache, []).matte;
      return { value: { ...plane, data: plane.data.slice() }, owned: [] };
    });
    return { key, matte };
  });
  cache.trim();
  return made;
}
function runSteps(recipe2, sources, request, cache, mattes) {
  const allocate = (n2) => cache.pool.take(n2);
  const full = sources.plate.picture;
  const factor = request.reduce;
  const scale = 1 / factor;
  const wanted = new Set(request.outputs);
  const wants = (...names) => names.some((n2) => wanted.has(n2));
  if (wanted.has("figures") && request.region) throw new RangeError("Figures are measured on the whole frame.");
  const part = request.region && snapRegion(request.region, factor, full.width, full.height);
  const cutPicture = (p2) => part ? cropPicture(p2, part) : p2;
  const cutPlane = (p2) => part ? { width: part.width, height: part.height, data: cropChannel(p2.data, p2.width, part) } : p2;
  const shrunk = (source) => cache.step("plate", keyOf(source.key, factor), () => {
    const picture = shrinkPicture(source.picture, factor);
    return { value: picture, owned: picture === source.picture ? [] : channels(picture) };
  });
  const plateKey = keyOf(sources.plate.key, factor);
  const plate = shrunk(sources.plate);
  const { width: width2, height: height2 } = plate;
  const out = { width: part?.width ?? width2, height: part?.height ?? height2 };
  if (wanted.has("plate")) out.plate = cutPicture(plate);
  const background = () => {
    const back = sources.background;
    if (!back) return void 0;
    const { fit, scale: enlarge, x, y } = recipe2.scene;
    return cache.step("background", keyOf(back.key, fit, enlarge, x, y, factor, full.width, full.height), () => {
      const p2 = fitPlacement(back.picture.width, back.picture.height, full.width, full.height, { fit, scale: enlarge, x, y });
      const place = { scaleX: p2.scaleX * scale, scaleY: p2.scaleY * scale, offsetX: p2.offsetX * scale, offsetY: p2.offsetY * scale };
      const placed = placePicture(back.picture, width2, height2, place, false);
      const a2 = placed.a;
      for (const c of [placed.r, placed.g, placed.b]) for (let i = 0; i < c.length; i++) c[i] = c[i] * a2[i];
      return { value: placed, owned: channels(placed) };
    });
  };
  if (wanted.has("background")) {
    const behind = background();
    if (behind) out.background = cutPicture(behind);
  }
  const { chroma, overTime, ...rest } = recipe2.prepare;
  const recorded = sources.plate.recorded;
  const rebuild = chroma && factor === 1 && recorded !== void 0;
  const { colour: screen, from: cleanFrom } = recipe2.screen;
  const others = sources.nearby ?? [];
  const averaged = overTime > 0 && screen !== null && others.length > 0;
  const still = (source) => cache.step("still", keyOf(plateKey, source.key, factor, screen), () => ({
    value: stillPlaces(plate, shrunk(source), screenLike(plate, screen)),
    owned: []
  }));
  const decoded = (source) => rebuild && source.recorded ? decodeWithRebuiltChroma(source.recorded.raw, source.recorded.reading) : shrunk(source);
  const touched = averaged || rest.blur > 0 || rest.denoiseLuma > 0 || rest.denoiseChroma > 0 || rest.flattenRounds > 0 && screen !== null;
  const preparedKey = rebuild || touched ? keyOf(
    plateKey,
    rebuild,
    rest,
    rest.flattenRounds ? screen : null,
    averaged ? [overTime, screen, others.map((o) => o.source.key)] : null
  ) : plateKey;
  const prepared = () => preparedKey === plateKey ? plate : cache.step("prepare", preparedKey, () => {
    const own = decoded(sources.plate);
    const base = averaged ? denoiseOverTime(
      own,
      others.map(({ source }) => ({ picture: decoded(source), still: still(source) })),
      overTime
    ) : own;
    const picture = prepareCopy(base, rest, screen, scale);
    return { value: picture, owned: picture === plate ? [] : channels(picture) };
  });
  if (wanted.has("prepared")) out.prepared = cutPicture(prepared());
  const primary = screen && screenPrimary(screen);
  const supplied = cleanFrom === "supplied" ? sources.clean : void 0;
  const cleanKey = cleanFrom === "none" ? "none" : keyOf(cleanFrom, supplied?.key ?? preparedKey, primary, factor);
  const cleanPlate = () => {
    if (cleanFrom === "none" || !primary) return null;
    return cache.step("clean", cleanKey, () => {
      const picture = supplied ? suppliedCleanPlate(shrinkPicture(supplied.picture, factor), plate, primary) : synthesiseCleanPlate(prepared(), primary, allocate);
      return { value: picture, owned: channels(picture) };
    });
  };
  if (wanted.has("cleanPlate")) {
    const clean2 = cleanPlate();
    if (clean2) out.cleanPlate = cutPicture(clean2);
  }
  const drawn = (kind) => recipe2.bounds.garbage.filter((s2) => s2.kind === kind && s2.points.length >= 3).map((s2) => ({ ...s2, points: outlineAt(s2, request.frame ?? 1) }));
  const keyOfShapes = (list) => keyOf(
    list.map(({ points, smooth, out: side, soft, lean }) => [points, smooth, side, soft, lean]),
    full.width,
    full.height,
    factor
  );
  const shapes = drawn("garbage");
  const beyond = recipe2.bounds.beyond && primary;
  const boundsKey = keyOf(keyOfShapes(shapes), beyond ? [plateKey, primary] : null);
  const garbage = (shapes.length || beyond) && wants("garbage", "matte", "owners", "foreground", "composite", "figures", "levelled", "autoBounds") ? cache.step("bounds", boundsKey, () => {
    const plane = shapesMatte(shapes, width2, height2, scale);
    if (beyond) joinBeyond(plane, plate, primary);
    return { value: plane, owned: [plane.data] };
  }) : void 0;
  if (wanted.has("garbage") && garbage) out.garbage = cutPlane(garbage);
  if (!wants("levelled", "pull", "autoBounds", "matte", "owners", "spillRemoved", "spillMap", "foreground", "composite", "figures"))
    return out;
  if (!screen || !primary) throw new NoScreenError();
  const against = () => cleanPlate() ?? screen;
  const holdoutShapes = drawn("holdout");
  const holdouts = holdoutShapes.length ? { key: keyOfShapes(holdoutShapes), plane: () => shapesMatte(holdoutShapes, width2, height2, scale) } : void 0;
  const backgroundKey = sources.background ? keyOf(sources.background.key, recipe2.scene) : "none";
  const frame = {
    cache,
    allocate,
    scale,
    plate,
    plateKey,
    prepared,
    preparedKey,
    screen,
    primary,
    against,
    cleanKey,
    holdouts,
    light: () => {
      const back = background();
      return back && {
        key: backgroundKey,
        picture: cache.step("light", keyOf("light", backgroundKey, factor), () => {
          const blur = (c) => wideBlur(c, width2, height2, Math.max(1, recipe2.scene.wrap.blur * scale));
          return { value: { width: width2, height: height2, r: blur(back.r), g: blur(back.g), b: blur(back.b) }, owned: [] };
        })
      };
    }
  };
  const active = recipe2.passes.filter((p2) => p2.on);
  if (active.length === 0) throw new RangeError("Every pass is off: switch one on in Pull.");
  const runs = active.map((p2) => passSteps(frame, p2));
  const looked = runs[Math.max(
    0,
    active.findIndex((p2) => p2.id === request.pass)
  )];
  if (wanted.has("pull")) out.pull = cutPlane(request.pass === void 0 ? joinPulls(frame, active, runs).plane : looked.pull());
  if (wanted.has("autoBounds")) {
    const b2 = looked.bounds();
    if (b2) out.autoBounds = cutPlane({ width: width2, height: height2, data: b2.in.map((v, i) => 0.5 + 0.5 * v - 0.5 * b2.out[i]) });
  }
  if (wanted.has("levelled")) {
    const pulled = joinPulls(frame, active, runs);
    const levelled = cache.step("level", keyOf(plateKey, pulled.key, boundsKey, recipe2.screen.level), () => {
      const picture = levelPlate(plate, pulled.plane, against(), screen, recipe2.screen.level, garbage, allocate);
      return { value: picture, owned: channels(picture) };
    });
    out.levelled = cutPicture(levelled);
  }
  if (!wants("matte", "owners", "spillRemoved", "spillMap", "foreground", "composite", "figures")) return out;
  const joined = joinPasses(frame, active, runs);
  const held2 = holdouts ? cache.step("held", keyOf(joined.key, holdouts.key), () => {
    const plane = holdIn(joined.plane, holdouts.plane(), allocate);
    return { value: plane, owned: [plane.data] };
  }) : joined.plane;
  const cutKey = keyOf(joined.key, holdouts?.key ?? null, garbage ? boundsKey : null);
  const cut = garbage ? cache.step("holdout", cutKey, () => {
    const plane = holdOut(held2, garbage, allocate);
    return { value: plane, owned: [plane.data] };
  }) : held2;
  const { steady, blinking } = recipe2.time;
  const matteKey = mattes.length ? keyOf(
    cutKey,
    recipe2.time,
    mattes.map((m) => m.key)
  ) : cutKey;
  const matte = mattes.length ? cache.step("time", matteKey, () => {
    const planes = mattes.map((m) => m.matte);
    const whole = blinking > 0 ? dropBlinking(cut, planes, Math.max(1, blinking * scale * scale), allocate) : cut;
    const plane = steady > 0 ? steadyMatte(
      whole,
      planes.map((p2, k2) => ({ matte: p2, still: still(others[k2].source) })),
      steady,
      allocate
    ) : whole;
    if (plane !== whole && whole !== cut) cache.pool.give(whole.data);
    return { value: plane, owned: [plane.data] };
  }) : cut;
  if (wanted.has("matte")) out.matte = cutPlane(matte);
  if (wanted.has("owners")) out.owners = cutPlane({ width: width2, height: height2, data: ownersOf(joined.shares, matte.data) });
  if (wanted.has("spillRemoved")) out.spillRemoved = cutPicture(looked.spill().picture);
  if (wanted.has("spillMap")) out.spillMap = cutPlane({ width: width2, height: height2, data: looked.spill().removed });
  if (wanted.has("figures")) {
    const pulled = joinPulls(frame, active, runs);
    const first = runs[0];
    out.figures = cache.step("figures", keyOf(pulled.key, matteKey, first.spillKey), () => {
      const map = measureFigures(pulled.plane, matte, garbage, scale);
      const excess2 = Math.max(0, excessOf(screen, primary, 0.5));
      return { value: { ...map, spill: measureSpill(first.spill().removed, map.inside, excess2, first.nearScreen()) }, owned: [] };
    });
  }
  if (!wants("foreground", "composite")) return out;
  const unpainted = joinColours(frame, runs, joined);
  const number = request.frame ?? 1;
  const strokes = recipe2.paint.filter((p2) => number >= p2.first && number <= p2.last);
  const coloured = strokes.length ? paintOver(unpainted) : unpainted;
  function paintOver(under) {
    const key = keyOf(under.key, strokes);
    const picture = cache.step("paint", key, () => {
      const value = paintColour(under.picture, strokes, number, scale, allocate);
      return { value, owned: channels(value) };
    });
    return { key, picture };
  }
  if (wanted.has("foreground")) out.foreground = { ...cutPicture(coloured.picture), a: cutPlane(matte).data };
  if (wanted.has("composite")) {
    const back = background();
    const composite = cache.step("composite", keyOf(coloured.key, matteKey, back ? backgroundKey : null), () => {
      const behind = back ?? { width: width2, height: height2, r: zeros(width2 * height2), g: zeros(width2 * height2), b: zeros(width2 * height2) };
      const over = straightOverOpaque(coloured.picture, matte.data, behind, allocate);
      const { wrap } = recipe2.scene;
      if (!back || wrap.strength === 0) return { value: over, owned: channels(over) };
      const lengths = { reach: wrap.reach * scale, blur: wrap.blur * scale, grow: wrap.grow * scale };
      const picture = lightWrap(over, matte, back, { ...wrap, ...lengths }, allocate);
      cache.pool.give(...channels(over));
      return { value: picture, owned: channels(picture) };
    });
    out.composite = cutPicture(composite);
  }
  return out;
}
function screenLike(plate, screen) {
  const primary = screenPrimary(screen);
  const [u, v] = otherChannels(primary);
  const least = 0.5 * excessOf(screen, primary, 0.5);
  return (i) => plate[primary][i] - 0.5 * (plate[u][i] + plate[v][i]) > least;
}
function prepareCopy(base, settings, screen, scale) {
  const { blur, denoiseLuma, denoiseChroma, flattenRounds, flattenAmount } = settings;
  let picture = base;
  if (denoiseLuma > 0 || denoiseChroma > 0) picture = denoise(picture, { luma: denoiseLuma * scale, chroma: denoiseChroma * scale });
  if (flattenRounds > 0 && screen) picture = flattenRange(picture, screen, { rounds: flattenRounds, amount: flattenAmount });
  if (blur > 0) {
    const soft = (c) => gaussianBlur(c, base.width, base.height, blur * scale);
    picture = { width: base.width, height: base.height, r: soft(picture.r), g: soft(picture.g), b: soft(picture.b) };
  }
  return picture;
}
var BEYOND_WIDTH = 480;
var BEYOND_RIM = 2.5;
function joinBeyond(garbage, plate, primary) {
  const factor = Math.max(1, Math.round(plate.width / BEYOND_WIDTH));
  const small = shrinkPicture(plate, factor);
  const { width: w, height: h } = small;
  const luma = lumaOf(small).data;
  const { mask } = screenMask(small, primary);
  const beyond = beyondScreen(mask, luma, middleOf(valuesWhere(luma, mask), 0), w, h);
  const grown = distanceTo(beyond, w, h).map((d) => d <= BEYOND_RIM ? 1 : 0);
  const large = new Float32Array(garbage.data.length);
  enlargeChannel(grown, w, h, factor, plate.width, plate.height, large);
  for (let i = 0; i < large.length; i++) garbage.data[i] = Math.max(garbage.data[i], large[i]);
}
var zero = new Float32Array(0);
var zeros = (n2) => {
  if (zero.length !== n2) zero = new Float32Array(n2);
  return zero;
};
function snapRegion(region, factor, width2, height2) {
  const w = Math.ceil(width2 / factor);
  const h = Math.ceil(height2 / factor);
  const x = Math.min(w - 1, Math.max(0, Math.floor(region.x / factor)));
  const y = Math.min(h - 1, Math.max(0, Math.floor(region.y / factor)));
  const right = Math.min(w, Math.max(x + 1, Math.ceil((region.x + region.width) / factor)));
  const bottom = Math.min(h, Math.max(y + 1, Math.ceil((region.y + region.height) / factor)));
  return { x, y, width: right - x, height: bottom - y };
}

// src/core/recipe/schema.ts
import { z } from "zod";

// src/core/measure/faults.ts
var RIM = 1 / 60;
var INSIDE = 1 / 24;

// src/core/measure/findings.ts
var FINDING_KINDS = [
  "holes",
  "residue",
  "hard-edge",
  "spill-left",
  "over-corrected",
  "dark-line",
  "touches-garbage",
  "grain-in-background",
  "screen-inside",
  "blinking-specks",
  "grain-mismatch"
];

// src/core/recipe/schema.ts
var fraction = z.number().min(0).max(1);
var channelWeight = z.number().min(-1).max(2);
var px = z.number().min(-1e5).max(1e5);
var id = z.string().regex(/^[a-z0-9-]{1,40}$/, "an id of small letters, digits and dashes");
var rgbSchema = z.strictObject({
  r: z.number().min(-10).max(1e3),
  g: z.number().min(-10).max(1e3),
  b: z.number().min(-10).max(1e3)
});
var boxSchema = z.strictObject({
  frame: z.int().min(1),
  x: px,
  y: px,
  width: z.number().min(1).max(1e5),
  height: z.number().min(1).max(1e5)
});
var readingSchema = z.strictObject({
  transfer: z.enum(TRANSFERS).optional(),
  matrix: z.enum(MATRICES).optional(),
  range: z.enum(RANGES).optional(),
  siting: z.enum(SITINGS).optional(),
  /** Width of a pixel over its height. */
  pixelAspect: z.number().min(0.2).max(5).optional()
});
var outline = z.array(z.strictObject({ x: px, y: px })).max(500);
var shapeSchema = z.strictObject({
  id,
  name: z.string().min(1).max(80),
  points: outline,
  /** The outline on certain frames, in their order; it moves evenly between them. */
  keys: z.array(z.strictObject({ frame: z.int().min(1), points: outline })).max(500).default([]),
  /** A garbage shape throws a side away; a holdout holds it in. */
  kind: z.enum(["garbage", "holdout"]).default("garbage"),
  /** A smooth curve through the points, or straight sides. */
  smooth: z.boolean().default(false),
  /** The side that is thrown away or held in. */
  out: z.enum(["outside", "inside"]),
  soft: z.number().min(0).max(400),
  /** Which side of the outline the soft edge falls on: −1 inside, 0 both, 1 outside. */
  lean: z.number().min(-1).max(1).default(0)
}).refine((s2) => s2.keys.every((k2) => k2.points.length === s2.points.length), "every key needs as many points as the shape").refine(
  (s2) => s2.keys.every((k2, i) => i === 0 || k2.frame > s2.keys[i - 1].frame),
  "keys must be in order of frames"
);
var paintSchema = z.strictObject({
  id,
  first: z.int().min(1),
  last: z.int().min(1),
  points: outline.min(1),
  radius: z.number().min(0.5).max(1e3),
  soft: fraction,
  strength: fraction,
  colour: rgbSchema.nullable()
}).refine((p2) => p2.last >= p2.first, "the last frame must not come before the first");
var ROLES = ["whole", "core", "body", "strands", "detail"];
var PULL_METHODS = [
  "colour-difference",
  "subject-difference",
  "unmix",
  "chroma-distance",
  "colour-ranges",
  "clean-difference",
  "luminance"
];
var CLEAN_PLATES = ["none", "synthesised", "supplied"];
var autoBoundsSchema = z.strictObject({
  on: z.boolean().default(false),
  outLevel: fraction.default(0.06),
  grow: z.number().min(0).max(200).default(6),
  inLevel: fraction.default(0.8),
  shrink: z.number().min(0).max(200).default(6),
  soft: z.number().min(0).max(100).default(3),
  /** Islands and pinholes up to this area go, px². */
  specks: z.number().min(0).max(1e4).default(12),
  /** Islands alone go up to this area, px²: markers on the screen. */
  islands: z.number().min(0).max(1e5).default(0)
});
var colourRangeSchema = z.strictObject({
  take: z.boolean(),
  hue: z.number().min(0).max(360),
  hueReach: z.number().min(0).max(180),
  saturation: z.tuple([fraction, fraction]),
  luma: z.tuple([fraction, fraction])
});
var rising = (v) => v.outer > v.inner;
var RISING = "the outer bound must lie above the inner one";
var pullSchema = z.strictObject({
  method: z.enum(PULL_METHODS),
  /** Differences: what the screen primary is compared with, from all on one other channel (0) to all on the other (1); beyond both for hues between two primaries. */
  weight: channelWeight,
  /** Unmix: how far subject colours are looked for, px of the plate; how much the matte follows the picture's edges; noise floor. */
  unmix: z.strictObject({
    reach: z.number().min(2).max(400).default(48),
    follow: fraction.default(0),
    floor: z.number().min(0).max(0.2).default(0),
    /** How far under white certain subject may waver; with 0 one and a half times the floor. */
    waver: z.number().min(0).max(0.2).default(0)
  }).prefault({}),
  /** Chroma distance: radii in CIELAB a*b*, and how much farther saturation may reach than hue. */
  chroma: z.strictObject({
    inner: z.number().min(0).max(150).default(12),
    outer: z.number().min(0.5).max(200).default(38),
    stretch: z.number().min(0.25).max(8).default(1.8)
  }).refine(rising, RISING).prefault({}),
  /** Colour ranges, and the width of their shoulders as a share of the scale. */
  ranges: z.array(colourRangeSchema).max(24).default([]),
  softness: z.number().min(0).max(0.5).default(0.08),
  /** Difference from the clean plate, in standard deviations of its grain. */
  deviations: z.strictObject({ inner: z.number().min(0).max(200).default(6), outer: z.number().min(0.5).max(1e3).default(40) }).refine(rising, RISING).prefault({}),
  /** Luminance (sRGB codes) that is empty, and that is solid. */
  luminance: z.strictObject({ empty: fraction.default(0.05), solid: fraction.default(0.6) }).refine((v) => Math.abs(v.solid - v.empty) >= 1e-3, "the two levels must differ").prefault({})
});
var regionSchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("everything") }),
  z.strictObject({ kind: z.literal("left") }),
  z.strictObject({
    kind: z.literal("drawn"),
    points: z.array(z.strictObject({ x: px, y: px })).min(3).max(500),
    smooth: z.boolean().default(true),
    soft: z.number().min(0).max(400).default(12)
  })
]);
var passSchema = z.strictObject({
  id,
  role: z.enum(ROLES),
  on: z.boolean().default(true),
  /** How it joins what the passes before it made; the first has nothing before it. */
  combine: z.enum(COMBINES).default("join"),
  softly: z.boolean().default(false),
  region: regionSchema.prefault({ kind: "everything" }),
  pull: pullSchema,
  matte: z.strictObject({
    black: z.number().min(0).max(0.98),
    white: z.number().min(0.02).max(1),
    /** Over 1 lifts the greys between. */
    gamma: z.number().min(0.2).max(5).default(1),
    bounds: autoBoundsSchema.prefault({}),
    /** Edge position, px of the plate: positive grows, negative shrinks; and softness, σ in px. */
    shift: z.number().min(-20).max(20).default(0),
    soften: z.number().min(0).max(20).default(0),
    /** Softness of motion blur's wide greys alone, σ in px. */
    softenBlur: z.number().min(0).max(40).default(0)
  }).refine((m) => m.white >= m.black + 0.01, "the white point must lie at least 1 % above the black point"),
  spill: z.strictObject({
    limit: z.enum(SPILL_LIMITS),
    /** For the mixed limit: share of the first other channel, RGB order; beyond 0…1 for hues between two primaries. */
    mix: channelWeight.default(0.5),
    amount: fraction,
    /** What goes back in place of the light that is taken. */
    replace: z.enum(SPILL_REPLACEMENTS).default("nothing"),
    /** Degrees of hue, from the screen's towards warm and towards cool, that count as spill; 180 for all. */
    reachWarm: z.number().min(0).max(180).default(180),
    reachCool: z.number().min(0).max(180).default(180),
    /** How much of what each surface has of the screen's hue itself, told from its inside, is kept, 0…1. */
    protect: fraction.default(0),
    /** How far flat patches that spill treatment left grey take on the colour around them. */
    refill: fraction.default(0)
  }),
  edge: z.strictObject({
    /** How much of the known screen is taken out of mixed pixels. */
    screenOut: fraction,
    /** How much of the nearest solid colour is carried out under the soft band. */
    carry: fraction.default(0),
    fringe: z.strictObject({
      strength: fraction.default(0),
      grow: z.number().min(0).max(100).default(8),
      soft: z.number().min(0).max(100).default(6)
    }).prefault({})
  })
});
var recipeSchema = z.strictObject({
  version: z.literal(1),
  plate: readingSchema,
  screen: z.strictObject({
    /** Where the colour was sampled, in pixels of the plate; empty when it was typed. */
    boxes: z.array(boxSchema).max(16),
    /** Strokes over the screen that count as well. */
    strokes: z.array(z.strictObject({ frame: z.int().min(1), points: outline.min(1), radius: z.number().min(1).max(1e3) })).max(16).default([]),
    /** Screen colour in linear light, or null before the first sample. */
    colour: rgbSchema.nullable(),
    /** What the pull reads the screen from at every pixel: the one colour, a plate made from the screen's own pixels, or one supplied. */
    from: z.enum(CLEAN_PLATES).default("none"),
    /** Content hash of the supplied clean plate. */
    cleanPlate: z.string().regex(/^[0-9a-f]{64}$/).nullable().default(null),
    /** How far the levelled plate is brought to the screen colour, 0…1. */
    level: fraction.default(1)
  }),
  /** What is done to the copy that the matte is made from; the picture keeps its own pixels. */
  prepare: z.strictObject({
    /** Chroma brought to full resolution along luma, for 4:2:0 and 4:2:2. */
    chroma: z.boolean().default(false),
    /** Blur for the key only, σ in px of the plate. */
    blur: z.number().min(0).max(10).default(0),
    /** Grain that is smoothed away, as a share of full light, in luma and in colour. */
    denoiseLuma: z.number().min(0).max(0.1).default(0),
    denoiseChroma: z.number().min(0).max(0.1).default(0),
    /** Rounds of flattening and saturating the screen's range, and how far each goes. */
    flattenRounds: z.union([z.literal(0), z.literal(1), z.literal(2)]).default(0),
    flattenAmount: fraction.default(0.6),
    /** How far grain is averaged out with the neighbouring frames where the plate stands still. */
    overTime: fraction.default(0)
  }).prefault({}),
  bounds: z.strictObject({
    garbage: z.array(shapeSchema).max(64),
    /** Throws away what lies beyond the screen's end. */
    beyond: z.boolean().default(false)
  }),
  /** Pulls in the order in which they combine. */
  passes: z.array(passSchema).min(1).max(8).refine((list) => new Set(list.map((p2) => p2.id)).size === list.length, "two passes have the same id"),
  /** What the neighbouring frames do to the joined matte. */
  time: z.strictObject({
    /** How far edges that stand still are steadied. */
    steady: fraction.default(0),
    /** Specks and pinholes up to this area that are on one frame only go, px² of the plate. */
    blinking: z.number().min(0).max(1e4).default(0)
  }).prefault({}),
  /** The paint layer: strokes that change colour only. */
  paint: z.array(paintSchema).max(500).default([]),
  /** Findings that were looked at and may stay, and why. */
  dismissed: z.array(z.strictObject({ kind: z.enum(FINDING_KINDS), note: z.string().max(200) })).max(40).default([]),
  scene: z.strictObject({
    /** Content hash of the background, or null for none. */
    background: z.string().regex(/^[0-9a-f]{64}$/).nullable(),
    fit: z.enum(FITS),
    scale: z.number().min(0.05).max(20),
    x: px,
    y: px,
    /** Light of the background on the subject's rim; lengths in px of the plate. */
    wrap: z.strictObject({
      strength: fraction.default(0),
      reach: z.number().min(0.5).max(200).default(12),
      blur: z.number().min(1).max(400).default(70),
      blend: z.enum(WRAP_BLENDS).default("screen"),
      grow: z.number().min(0).max(20).default(1)
    }).prefault({})
  })
});
function defaultRecipe() {
  return recipeSchema.parse({
    version: 1,
    plate: {},
    screen: { boxes: [], colour: null },
    bounds: { garbage: [] },
    passes: [
      {
        id: "main",
        role: "whole",
        pull: { method: "colour-difference", weight: 0.5 },
        matte: { black: 0, white: 1 },
        spill: { limit: "average", amount: 1 },
        edge: { screenOut: 1 }
      }
    ],
    scene: { background: null, fit: "fill", scale: 1, x: 0, y: 0 }
  });
}

// src/core/recipe/auto.ts
var WEIGHT_STEP = 0.05;
var UNEVEN = 3e-3;
var OUT_LEAST = 0.03;
var OUT_MOST = 0.12;
var CLEAR2 = 1 / 120;
var MARKER_ROOM = 1.5;
var MARKERS_LEAST = 3;
var GRAINS = 6;
var LEVELS = 0.25;
var WARDROBE = 4e-3;
var percentile = (values, q) => values.length === 0 ? 0 : valueAt(values, Math.round(q * (values.length - 1)));
var percent = (v) => `${(100 * v).toFixed(1)} %`;
function proposeRecipe(plate, frame, base = defaultRecipe(), sources = {}) {
  const { found: found2, small, factor, box, sample } = locateScreen(plate);
  const { primary } = found2;
  const n2 = small.width * small.height;
  const reasons = [
    `Screen: ${PRIMARY_NAME[primary]}, averaged over the most even ${box.width}\xD7${box.height} px near the subject; ${percent(found2.share)} of the frame is screen.`
  ];
  const notSolved = [];
  const layout = sources.recorded?.raw.layout;
  const subsampled = layout?.kind === "ycbcr" && layout.subsampling !== "444";
  if (subsampled)
    reasons.push(`Chroma rebuilt along luma for the matte: the file stores colour as ${layout.subsampling.split("").join(":")}.`);
  reasons.push(
    sources.clean ? "Clean plate: the one supplied, brought to the plate's exposure." : "Clean plate: made from the screen's own pixels, so that gradients, creases and shadows do not count."
  );
  const screenPlate = synthesiseCleanPlate(small, primary);
  const own = subjectExcess(small, { primary, weight: 0.5, screen: screenPlate });
  const margin = Math.max(3, small.height / 90);
  const toScreen2 = distanceTo(found2.mask, small.width, small.height);
  const toOther = distanceTo(
    found2.mask.map((v) => 1 - v),
    small.width,
    small.height
  );
  const inside = placesWhere((i) => toScreen2[i] > margin, n2);
  const outside = placesWhere((i) => toScreen2[i] <= margin && toOther[i] > margin, n2);
  const weight = partingWeight(small, screenPlate, sample.colour, inside, outside);
  reasons.push(
    `Pull: unmix. The screen is known at every pixel, the subject's colours come from the nearest certain subject; a first matte by colour difference, weight ${percent(weight)}: of all tried, it parts certain subject from certain screen best.`
  );
  const luma = lumaOf(small).data;
  const areas = partAreas(found2.mask, luma, middleOf(valuesWhere(luma, found2.mask), 0), small.width, small.height);
  const beyond = Math.max(areas.ends.left, areas.ends.right, areas.ends.top) > 0.05;
  if (beyond) reasons.push("Bounds: the screen ends inside the frame; what lies beyond it is thrown away.");
  const markers = islandsOfMarkers(areas.markers) * factor * factor;
  if (markers > 0)
    reasons.push(
      `Bounds: ${areas.markers.length} markers on the screen, so islands up to ${markers} px\xB2 are dropped; hold what is small and flies, bees say, with a holdout.`
    );
  const wardrobe = own ? own.nearScreen.filter((v, i) => v > 0.5 && areas.subject[i] === 1).length : 0;
  const subjects = Math.max(
    1,
    areas.subject.reduce((s2, v) => s2 + v, 0)
  );
  reasons.push(
    `Spill: ${beyondChannels("mix", weight) ? "light of the screen's own hue, which lies between two primaries, is taken where the pull's weight tells it" : "the screen primary is limited to the mean of the other two channels"}, beyond what each surface has of it well inside the subject, which is its own and stays${wardrobe > WARDROBE * subjects ? ` (${percent(wardrobe / subjects)} of the subject has the screen's own hue)` : ""}; neutral light of the same luminance goes back.`
  );
  reasons.push("Edge: the known screen is taken out of mixed pixels, so that no line is left over any ground.");
  const recipe2 = {
    ...base,
    screen: {
      ...base.screen,
      boxes: [{ frame, ...box }],
      strokes: [],
      colour: sample.colour,
      from: sources.clean ? "supplied" : "synthesised",
      cleanPlate: sources.clean?.id ?? null
    },
    prepare: { ...base.prepare, chroma: subsampled },
    bounds: { ...base.bounds, beyond },
    passes: [
      {
        ...base.passes[0],
        pull: { ...base.passes[0].pull, method: "unmix", weight },
        matte: { ...base.passes[0].matte, black: 0, white: 1 },
        spill: {
          ...base.passes[0].spill,
          ...beyondChannels("mix", weight) ? { limit: "mix", mix: weight } : { limit: "average" },
          amount: 1,
          replace: "neutral",
          reachWarm: 180,
          reachCool: 180,
          protect: 1
        },
        edge: { ...base.passes[0].edge, screenOut: 1 }
      }
    ]
  };
  const evaluated = evaluate(
    recipe2,
    {
      plate: { key: "proposal", picture: plate, ...sources.recorded ? { recorded: sources.recorded } : {} },
      ...sources.clean ? { clean: { key: sources.clean.id, picture: sources.clean.picture } } : {}
    },
    { reduce: 1, outputs: ["pull"] }
  );
  const pull2 = evaluated.pull;
  const calm2 = boxMean(pull2.data, pull2.width, pull2.height, 1);
  const onScreen = [];
  for (let i = 0; i < n2; i++)
    if (toOther[i] > margin) {
      const x = Math.min(plate.width - 1, i % small.width * factor);
      const y = Math.min(plate.height - 1, Math.floor(i / small.width) * factor);
      onScreen.push(calm2[y * plate.width + x]);
    }
  const sigma = blockNoise(calm2, found2.mask, plate.width, plate.height, { factor });
  const levelsOnScreen = Float32Array.from(onScreen);
  const farthest = percentile(levelsOnScreen, 0.98);
  const screenTop = Math.min(farthest, percentile(levelsOnScreen, 0.5) + GRAINS * sigma);
  const outLevel = Math.min(OUT_MOST, Math.max(OUT_LEAST, Math.round(1e3 * (1.5 * screenTop + 0.01)) / 1e3));
  const grain = Math.min(0.05, Math.round(1e3 * screenTop) / 1e3);
  const waver = Math.min(0.075, Math.max(1.5 * grain, Math.round(1500 * farthest) / 1e3));
  const clear = Math.max(2, Math.round(plate.height * CLEAR2));
  reasons.push(
    `Automatic bounds: out ${clear} px beyond a matte of ${percent(outLevel)} (the grain of the screen reaches ${percent(screenTop)}), held ${clear} px inside one of 88 %; what lies under the grain, ${percent(grain)}, is empty, and black and white points go a quarter as far as screen and subject waver.`
  );
  const levels = recipe2.passes[0].matte;
  recipe2.passes[0].pull.unmix = { ...recipe2.passes[0].pull.unmix, floor: grain, waver };
  levels.black = Math.round(1e3 * LEVELS * grain) / 1e3;
  levels.white = 1 - Math.round(1e3 * LEVELS * waver / 1.5) / 1e3;
  levels.bounds = {
    on: true,
    outLevel,
    grow: clear,
    inLevel: 0.88,
    shrink: clear,
    soft: Math.max(2, clear / 2),
    specks: Math.round((plate.height / 270) ** 2),
    islands: markers
  };
  const { matte } = evaluate(
    recipe2,
    { plate: { key: "proposal", picture: plate } },
    { reduce: Math.max(1, Math.round(plate.width / 640)), outputs: ["matte"] }
  );
  const open3 = openPlaces(matte, plate.width);
  for (const o of open3)
    notSolved.push({
      what: `A place of ${o.area} px\xB2 at ${o.x}, ${o.y} stays half open inside the subject, as mirror-like metal and glossy white do: draw a holdout there.`,
      place: placeAround(o)
    });
  return { recipe: recipe2, reasons, notSolved };
}
function placesWhere(holds, n2) {
  const places2 = new Uint32Array(n2);
  let count = 0;
  for (let i = 0; i < n2; i++) if (holds(i)) places2[count++] = i;
  return places2.subarray(0, count);
}
function partingWeight(plate, screen, colour, inside, outside) {
  const primary = screenPrimary(colour);
  const places2 = new Uint32Array(inside.length + outside.length);
  places2.set(inside);
  places2.set(outside, inside.length);
  const order = [primary, ...otherChannels(primary)];
  const operands = [plate, screen].flatMap((p2) => order.map((c) => Float32Array.from(places2, (i) => p2[c][i])));
  const mattes = new Float32Array(places2.length);
  let [weight, bestCost] = [0.5, Number.POSITIVE_INFINITY];
  const [least, most] = weightRange(colour);
  const middling = excessOf(colour, primary, 0.5);
  for (let step = Math.round(least / WEIGHT_STEP); step <= Math.round(most / WEIGHT_STEP); step++) {
    const w = step * WEIGHT_STEP;
    const signal = excessOf(colour, primary, w) / middling;
    if (!(signal > 0.1)) continue;
    pointwise("difference", [w, 1 - w, 1], [...operands, 0], [mattes]);
    let [holes2, residue2] = [0, 0];
    for (let k2 = 0; k2 < inside.length; k2++) holes2 += Math.min(0.04, (1 - mattes[k2]) ** 2);
    for (let k2 = inside.length; k2 < places2.length; k2++) residue2 += mattes[k2] ** 2;
    const cost = holes2 / Math.max(1, inside.length) + residue2 / Math.max(1, outside.length) + UNEVEN * ((2 * w - 1) / signal) ** 2;
    if (cost < bestCost) [weight, bestCost] = [w, cost];
  }
  return weight;
}
function islandsOfMarkers(markers) {
  const sizes = markers.map((m) => m.width * m.height).sort((a2, b2) => a2 - b2);
  const usual = sizes[sizes.length >> 1] ?? 0;
  const alike = sizes.filter((s2) => s2 > usual / 2 && s2 < 2 * usual);
  return alike.length < MARKERS_LEAST ? 0 : Math.round(MARKER_ROOM * Math.max(...alike));
}
function placeAround({ x, y, area }) {
  const side = Math.max(16, Math.ceil(2 * Math.sqrt(area)));
  return { x: Math.round(x - side / 2), y: Math.round(y - side / 2), width: side, height: side };
}
function openPlaces(matte, fullWidth) {
  const { width: width2, height: height2, data } = matte;
  const k2 = fullWidth / width2;
  const half = maskOf(data, (m) => m < 0.95);
  const { labels, areas, atBorder } = labelComponents(half, width2, height2);
  const sums = areas.map(() => ({ x: 0, y: 0, m: 0 }));
  for (let i = 0; i < labels.length; i++) {
    const s2 = sums[labels[i]];
    if (!labels[i] || !s2) continue;
    s2.x += i % width2;
    s2.y += Math.floor(i / width2);
    s2.m += data[i];
  }
  const found2 = [];
  for (let l = 1; l < areas.length; l++) {
    const area = areas[l];
    const s2 = sums[l];
    if (atBorder[l] || area < 12 || s2.m / area < 0.25) continue;
    found2.push({ x: Math.round(s2.x / area * k2), y: Math.round(s2.y / area * k2), area: Math.round(area * k2 * k2) });
  }
  return found2.sort((a2, b2) => b2.area - a2.area).slice(0, 3);
}

// src/server/media/frames.ts
import { closeSync, openSync, readSync } from "node:fs";

// src/server/files/complaint.ts
var Complaint = class extends Error {
  constructor(status, what, remedy) {
    super(`${what} ${remedy}`);
    this.status = status;
    this.what = what;
    this.remedy = remedy;
    this.name = "Complaint";
  }
};

// src/server/media/ffmpeg.ts
import { spawn, spawnSync } from "node:child_process";
import { accessSync, constants, existsSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
var require2 = createRequire(import.meta.url);
var found = /* @__PURE__ */ new Map();
function executable(name) {
  const known = found.get(name);
  if (known) return known;
  const candidates = [
    () => process.env.FFMPEG_PATH && path.join(path.dirname(process.env.FFMPEG_PATH), name),
    ...(process.env.PATH ?? "").split(path.delimiter).map((folder) => () => path.join(folder, name)),
    () => require2(`@${name}-installer/${name}`).path
  ];
  for (const candidate of candidates) {
    try {
      const file2 = candidate();
      if (!file2 || !existsSync(file2)) continue;
      accessSync(file2, constants.X_OK);
      if (spawnSync(file2, ["-version"], { stdio: "ignore" }).status !== 0) continue;
      found.set(name, file2);
      return file2;
    } catch {
    }
  }
  throw new Complaint(500, `${name} was not found.`, "Install the Debian package ffmpeg or set FFMPEG_PATH, then try again.");
}
var CONTAINERS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mxf,mpegts,mpeg,ogg,yuv4mpegpipe,flv,asf";
var openArguments = (file2) => [
  "-protocol_whitelist",
  "file,pipe",
  "-format_whitelist",
  CONTAINERS,
  "-i",
  `file:${file2}`
];
function run(name, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(executable(name), args, {
      stdio: ["ignore", "pipe", "pipe"],
      ...options.signal ? { signal: options.signal } : {}
    });
    const parts = [];
    let bytes = 0;
    let stderr = "";
    child.stdout.on("data", (chunk) => {
      bytes += chunk.length;
      if (options.maxBytes && bytes > options.maxBytes) child.kill("SIGKILL");
      else parts.push(chunk);
    });
    child.stderr.on("data", (chunk) => {
      if (stderr.length < 2e4) stderr += chunk.toString();
    });
    child.on("error", reject);
    child.on("close", (code) => resolve({ code: code ?? -1, stdout: Buffer.concat(parts), stderr }));
  });
}

// src/server/media/pixel-formats.ts
var depthOf = (name) => Number(/p(9|10|12|14|16)(le|be)$/.exec(name)?.[1] ?? 8);
function fetchFor(pixelFormat) {
  const same = {
    nv12: "yuv420p",
    nv16: "yuv422p",
    nv24: "yuv444p",
    p010le: "yuv420p10le",
    p210le: "yuv422p10le",
    yuyv422: "yuv422p",
    uyvy422: "yuv422p"
  };
  const name = (same[pixelFormat] ?? pixelFormat).replace(/be$/, "le");
  const yuv = /^yuv(j|a)?(420|422|444)p/.exec(name);
  if (yuv) {
    const bits = depthOf(name);
    const alpha2 = yuv[1] === "a";
    return {
      pixelFormat: name,
      layout: { kind: "ycbcr", subsampling: yuv[2], bits, alpha: alpha2 },
      bytes: bits > 8 ? 2 : 1,
      order: [0, 1, 2, 3]
    };
  }
  const alpha = /a(64|$)|rgba|bgra|argb|abgr|gbrap/.test(name);
  if (/^(rgb|bgr|gbr|0rgb|0bgr|argb|abgr|rgba|bgra|pal8|gray|monob|monow)/.test(name) && !/f32|f16/.test(name)) {
    const wide = /48|64|16|10|12|14/.test(name.replace(/^gbrap?/, "gbr"));
    return {
      pixelFormat: `gbr${alpha ? "a" : ""}p${wide ? "16le" : ""}`,
      layout: { kind: "rgb", bits: wide ? 16 : 8, alpha },
      bytes: wide ? 2 : 1,
      order: [2, 0, 1, 3]
    };
  }
  return void 0;
}

// src/server/media/clips.ts
function readPlanes(bytes, info2) {
  const fetch = fetchFor(info2.pixelFormat);
  if (!fetch) throw new Complaint(422, `The pixel format ${info2.pixelFormat} is not read.`, "Export the clip in another format.");
  const sizes = planeSizes(info2.width, info2.height, fetch.layout);
  const arrived = [];
  let at = 0;
  for (const s2 of sizes) {
    const n2 = s2.width * s2.height;
    const plane = new Uint16Array(n2);
    if (fetch.bytes === 1) plane.set(bytes.subarray(at, at + n2));
    else Buffer.from(plane.buffer).set(bytes.subarray(at, at + 2 * n2));
    arrived.push(plane);
    at += n2 * fetch.bytes;
  }
  return {
    width: info2.width,
    height: info2.height,
    layout: fetch.layout,
    planes: sizes.map((_, k2) => arrived[fetch.order[k2]])
  };
}
async function decodeClipFrames(file2, info2, index, first, count) {
  const fetch = fetchFor(info2.pixelFormat);
  if (!fetch) throw new Complaint(422, `The pixel format ${info2.pixelFormat} is not read.`, "Export the clip in another format.");
  const time2 = index.times[first - 1];
  if (time2 === void 0) throw new Complaint(404, `There is no frame ${first}.`, `The clip has frames 1 to ${info2.frames}.`);
  const before = index.times[first - 2];
  const key = index.keys.findLast((k2) => k2.shown <= time2 + 1e-6);
  const seek = key && before !== void 0 && key.decoded > index.start ? ["-noaccurate_seek", "-ss", String(key.decoded - index.start)] : [];
  const select = before === void 0 ? [] : ["-vf", `select=gte(t\\,${(time2 + before) / 2})`];
  const size = planeSizes(info2.width, info2.height, fetch.layout).reduce((n2, s2) => n2 + s2.width * s2.height * fetch.bytes, 0);
  const result = await run(
    "ffmpeg",
    [
      "-v",
      "error",
      "-nostdin",
      "-copyts",
      ...seek,
      ...openArguments(file2),
      "-map",
      "0:v:0",
      "-an",
      ...select,
      "-vsync",
      "0",
      "-frames:v",
      String(count),
      "-pix_fmt",
      fetch.pixelFormat,
      "-f",
      "rawvideo",
      "pipe:1"
    ],
    { maxBytes: size * count }
  );
  const whole = Math.floor(result.stdout.length / size);
  if (whole === 0)
    throw new Complaint(
      422,
      `Frame ${first} cannot be decoded: the clip is damaged there.`,
      "Use the frames before it, or export the clip again."
    );
  return Array.from({ length: whole }, (_, i) => readPlanes(result.stdout.subarray(i * size, (i + 1) * size), info2));
}

// src/server/media/probe.ts
import { statSync } from "node:fs";
import { open as open2 } from "node:fs/promises";
import { z as z2 } from "zod";

// src/server/media/stills.ts
import { readFile } from "node:fs/promises";
import sharp from "sharp";
import { FloatType, HalfFloatType } from "three";
import { EXRLoader } from "three/examples/jsm/loaders/EXRLoader.js";

// src/server/media/exr-header.ts
var MAGIC = 20000630;
var TILED = 512;
var DEEP_OR_PARTS = 2048 | 4096;
var LINES_PER_CHUNK = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256];
var LONGEST_NAME = 255;
function checkExr(file2) {
  if (file2.length < 12 || file2.readUInt32LE(0) !== MAGIC) throw new RangeError("It is no EXR file.");
  const version = file2.readUInt32LE(4);
  if (version & DEEP_OR_PARTS) throw new RangeError("Deep and multi-part EXR are not read.");
  let at = 8;
  const name = () => {
    const end = file2.indexOf(0, at);
    if (end < 0 || end - at > LONGEST_NAME) throw new RangeError("Its header is damaged.");
    const text = file2.toString("latin1", at, end);
    at = end + 1;
    return text;
  };
  const values = /* @__PURE__ */ new Map();
  for (let attribute = name(); attribute !== ""; attribute = name()) {
    name();
    if (at + 4 > file2.length) throw new RangeError("Its header breaks off.");
    const size = file2.readUInt32LE(at);
    at += 4;
    if (at + size > file2.length) throw new RangeError("Its header breaks off.");
    values.set(attribute, file2.subarray(at, at + size));
    at += size;
  }
  const window = values.get("dataWindow");
  const compression = values.get("compression")?.[0];
  if (!window || window.length < 16 || compression === void 0 || !values.has("channels"))
    throw new RangeError("Its header is not complete.");
  const [x0, y0, x1, y1] = [0, 4, 8, 12].map((o) => window.readInt32LE(o));
  const width2 = x1 - x0 + 1;
  const height2 = y1 - y0 + 1;
  if (width2 < 1 || height2 < 1) throw new RangeError("Its size is not positive.");
  const lines = LINES_PER_CHUNK[compression];
  if (!lines) throw new RangeError("Its compression is not known.");
  if (!(version & TILED))
    for (let i = 0; i < Math.ceil(height2 / lines); i++) {
      const entry = at + 8 * i;
      const chunk = entry + 8 <= file2.length ? Number(file2.readBigUInt64LE(entry)) : Number.POSITIVE_INFINITY;
      if (!(chunk + 8 <= file2.length) || chunk + 8 + file2.readUInt32LE(chunk + 4) > file2.length)
        throw new RangeError("Its picture breaks off.");
    }
  return { width: width2, height: height2 };
}

// src/server/media/stills.ts
function stillFormat(head) {
  const starts = (...bytes) => bytes.every((b2, i) => head[i] === b2);
  if (starts(137, 80, 78, 71)) return "png";
  if (starts(255, 216, 255)) return "jpeg";
  if (starts(73, 73, 42, 0) || starts(77, 77, 0, 42)) return "tiff";
  if (starts(82, 73, 70, 70) && head[8] === 87 && head[9] === 69) return "webp";
  if (starts(118, 47, 49, 1)) return "exr";
  return void 0;
}
var damaged = (format, detail = "") => new Complaint(422, `The ${format.toUpperCase()} file cannot be read: it is damaged or cut short.${detail}`, "Copy or export it again.");
function checkStillSize(width2, height2) {
  if (width2 > MAX_SIDE || height2 > MAX_SIDE || width2 * height2 > MAX_PIXELS)
    throw new Complaint(
      422,
      `A picture of ${width2}\xD7${height2} is too large.`,
      `At most ${MAX_SIDE} px a side and ${MAX_PIXELS / 1e6} megapixels: scale it down first.`
    );
}
var open = (file2) => sharp(file2, { limitInputPixels: MAX_PIXELS * 64, failOn: "error", unlimited: false });
async function probeStill(file2, format) {
  let width2;
  let height2;
  let layout;
  if (format === "exr") {
    const raw2 = await decodeStill(file2, format);
    ({ width: width2, height: height2, layout } = raw2);
  } else {
    const meta = await open(file2).metadata().catch(() => {
      throw damaged(format);
    });
    const turned = (meta.orientation ?? 1) >= 5;
    width2 = (turned ? meta.height : meta.width) ?? 0;
    height2 = (turned ? meta.width : meta.height) ?? 0;
    checkStillSize(width2, height2);
    layout = { kind: "rgb", bits: meta.depth === "ushort" ? 16 : 8, alpha: meta.hasAlpha === true };
    await decodeStill(file2, format);
  }
  return {
    kind: "still",
    format,
    codec: format,
    width: width2,
    height: height2,
    frames: 1,
    firstNumber: 1,
    rate: null,
    pixelFormat: layout.kind === "half" ? "rgb half float" : `rgb${layout.alpha ? "a" : ""} ${layout.kind === "rgb" ? layout.bits : 16} bit`,
    layout,
    reading: { transfer: format === "exr" ? "linear" : "srgb", matrix: "bt709", range: "full", siting: "center" },
    stated: { transfer: format === "exr", matrix: true, range: true, siting: true },
    pixelAspect: 1,
    fieldOrder: "progressive",
    timecode: null,
    audio: null,
    warning: null
  };
}
function split(codes, channels2, planes) {
  const n2 = codes.length / channels2;
  return Array.from({ length: planes }, (_, k2) => {
    const plane = new Uint16Array(n2);
    const from = channels2 < 3 ? k2 === 3 ? 1 : 0 : k2;
    for (let i = 0; i < n2; i++) plane[i] = codes[i * channels2 + from];
    return plane;
  });
}
async function decodeStill(file2, format) {
  if (format === "exr") return decodeExr(await readFile(file2));
  try {
    const meta = await open(file2).metadata();
    const wide = meta.depth === "ushort";
    const { data, info: info2 } = await open(file2).rotate().toColourspace(wide ? "rgb16" : "srgb").raw({ depth: wide ? "ushort" : "uchar" }).toBuffer({ resolveWithObject: true });
    const codes = wide ? new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2) : data;
    const alpha = info2.channels === 4 || info2.channels === 2;
    return {
      width: info2.width,
      height: info2.height,
      layout: { kind: "rgb", bits: wide ? 16 : 8, alpha },
      planes: split(codes, info2.channels, alpha ? 4 : 3)
    };
  } catch (error) {
    if (error instanceof Complaint) throw error;
    throw damaged(format);
  }
}
function decodeExr(file2) {
  try {
    const size = checkExr(file2);
    checkStillSize(size.width, size.height);
  } catch (error) {
    if (error instanceof Complaint) throw error;
    throw damaged("exr", ` ${error.message}`);
  }
  const loader = new EXRLoader();
  loader.setDataType(HalfFloatType);
  let texture;
  try {
    const bytes = file2.buffer.slice(file2.byteOffset, file2.byteOffset + file2.byteLength);
    texture = loader.parse(bytes);
  } catch {
    throw damaged("exr", " Only scanline and tiled EXR with RGB or RGBA channels is read.");
  }
  const { width: width2, height: height2, data } = texture;
  checkStillSize(width2, height2);
  const channels2 = data.length / (width2 * height2);
  if (channels2 !== 4 && channels2 !== 1) throw damaged("exr", " It must hold RGB, RGBA or Y channels.");
  const bits = (v) => texture.type === FloatType ? floatToHalf(v) : v;
  const planes = Array.from({ length: channels2 === 4 ? 4 : 3 }, (_, k2) => {
    const plane = new Uint16Array(width2 * height2);
    for (let y = 0; y < height2; y++)
      for (let x = 0; x < width2; x++) {
        const at = ((height2 - 1 - y) * width2 + x) * channels2 + (channels2 === 4 ? k2 : 0);
        plane[y * width2 + x] = bits(data[at]);
      }
    return plane;
  });
  return { width: width2, height: height2, layout: { kind: "half", alpha: channels2 === 4 }, planes };
}

// src/server/media/probe.ts
var READS = "Stills: PNG, JPEG, TIFF, WebP, EXR. Clips: H.264, HEVC, ProRes, VP9 and others in MP4, MOV, WebM or MKV.";
async function probeFile(file2) {
  const handle = await open2(file2, "r");
  let head;
  try {
    const { size } = await handle.stat();
    if (size === 0) throw new Complaint(422, "The file is empty (0 bytes).", "Copy it again from its source.");
    head = Buffer.alloc(16);
    await handle.read(head, 0, 16, 0);
  } finally {
    await handle.close();
  }
  const format = stillFormat(head);
  return format ? probeStill(file2, format) : probeClip(file2);
}
var probeSchema = z2.object({
  streams: z2.array(
    z2.object({
      codec_type: z2.string().optional(),
      codec_name: z2.string().optional(),
      width: z2.number().optional(),
      height: z2.number().optional(),
      pix_fmt: z2.string().optional(),
      r_frame_rate: z2.string().optional(),
      avg_frame_rate: z2.string().optional(),
      nb_frames: z2.string().optional(),
      sample_aspect_ratio: z2.string().optional(),
      field_order: z2.string().optional(),
      color_transfer: z2.string().optional(),
      color_space: z2.string().optional(),
      color_range: z2.string().optional(),
      chroma_location: z2.string().optional(),
      channels: z2.number().optional(),
      sample_rate: z2.string().optional(),
      tags: z2.record(z2.string(), z2.string()).optional()
    })
  ),
  format: z2.object({ format_name: z2.string(), start_time: z2.string().optional(), tags: z2.record(z2.string(), z2.string()).optional() })
});
var ratio = (text, by) => {
  const [num, den] = (text ?? "").split(by).map(Number);
  return num && den && Number.isFinite(num) && Number.isFinite(den) ? { num, den } : void 0;
};
var TRANSFER_NAMES = {
  bt709: "bt709",
  smpte170m: "bt709",
  "bt2020-10": "bt709",
  "bt2020-12": "bt709",
  "iec61966-2-1": "srgb",
  gamma22: "gamma22",
  bt470m: "gamma22",
  linear: "linear"
};
var MATRIX_NAMES = { bt709: "bt709", smpte170m: "bt601", bt470bg: "bt601", bt2020nc: "bt2020" };
var SITING_NAMES = { left: "left", center: "center", topleft: "topleft" };
async function ffprobeJson(file2) {
  const result = await run("ffprobe", ["-v", "error", "-show_streams", "-show_format", "-of", "json", ...openArguments(file2)]);
  if (result.code !== 0) {
    const cut = /moov atom not found|Invalid data|End of file|EBML|truncat/i.test(result.stderr);
    throw new Complaint(
      422,
      cut ? "This is not a clip that can be read: its content is damaged, cut short, or not video at all." : "The file cannot be read as a clip.",
      `Copy or export it again. ${READS}`
    );
  }
  return probeSchema.parse(JSON.parse(result.stdout.toString()));
}
async function indexFrames(file2) {
  const result = await run("ffprobe", [
    "-v",
    "error",
    "-select_streams",
    "v:0",
    "-show_entries",
    "packet=pts_time,dts_time,flags:format=start_time",
    "-of",
    "json",
    ...openArguments(file2)
  ]);
  const text = z2.object({
    packets: z2.array(z2.object({ pts_time: z2.string().optional(), dts_time: z2.string().optional(), flags: z2.string().optional() })).optional(),
    format: z2.object({ start_time: z2.string().optional() }).optional()
  }).parse(JSON.parse(result.stdout.toString() || "{}"));
  const packets = (text.packets ?? []).filter((p2) => !p2.flags?.includes("D")).map((p2) => ({
    shown: Number(p2.pts_time ?? p2.dts_time),
    decoded: Number(p2.dts_time ?? p2.pts_time),
    key: p2.flags?.includes("K") ?? false
  })).filter((p2) => Number.isFinite(p2.shown)).sort((a2, b2) => a2.shown - b2.shown);
  return {
    times: packets.map((p2) => p2.shown),
    keys: packets.filter((p2) => p2.key).map(({ shown, decoded }) => ({ shown, decoded })),
    start: Number(text.format?.start_time ?? 0) || 0
  };
}
var KEPT = 16;
var indices = /* @__PURE__ */ new Map();
function frameIndex(file2) {
  const { size, mtimeMs } = statSync(file2);
  const key = `${size}/${mtimeMs}/${file2}`;
  const found2 = indices.get(key) ?? indexFrames(file2);
  indices.delete(key);
  indices.set(key, found2);
  found2.catch(() => indices.delete(key));
  if (indices.size > KEPT) indices.delete(indices.keys().next().value);
  return found2;
}
async function probeClip(file2) {
  const probe = await ffprobeJson(file2);
  const video = probe.streams.find((s2) => s2.codec_type === "video" && s2.width && s2.height);
  if (!video?.width || !video.height) throw new Complaint(422, "The file holds no pictures.", READS);
  if (video.width > MAX_SIDE || video.height > MAX_SIDE || video.width * video.height > MAX_PIXELS)
    throw new Complaint(
      422,
      `Frames of ${video.width}\xD7${video.height} are too large.`,
      `At most ${MAX_SIDE} px a side and ${MAX_PIXELS / 1e6} megapixels.`
    );
  const fetch = fetchFor(video.pix_fmt ?? "");
  if (!fetch)
    throw new Complaint(
      422,
      `The pixel format ${video.pix_fmt ?? "of this file"} is not read.`,
      "Export the clip as 4:2:0, 4:2:2, 4:4:4 Y'CbCr or RGB with 8 to 16 bits."
    );
  const { times } = await indexFrames(file2);
  if (times.length === 0) throw new Complaint(422, "No frame of the clip can be read.", "Copy or export it again.");
  const promised = Number(video.nb_frames ?? 0);
  const rate = ratio(video.r_frame_rate, /\//) ?? ratio(video.avg_frame_rate, /\//) ?? { num: 25, den: 1 };
  const aspect = ratio(video.sample_aspect_ratio, /:/);
  const audio = probe.streams.find((s2) => s2.codec_type === "audio");
  const isRgb = fetch.layout.kind === "rgb";
  const transfer = TRANSFER_NAMES[video.color_transfer ?? ""];
  const matrix = MATRIX_NAMES[video.color_space ?? ""];
  const siting = SITING_NAMES[video.chroma_location ?? ""];
  const full = video.color_range === "pc" || /^yuvj/.test(video.pix_fmt ?? "");
  const timecode = [video.tags, probe.format.tags, ...probe.streams.map((s2) => s2.tags)].map((t) => t?.timecode).find(Boolean) ?? null;
  return {
    kind: "clip",
    format: probe.format.format_name.split(",")[0],
    codec: video.codec_name ?? "unknown",
    width: video.width,
    height: video.height,
    frames: times.length,
    firstNumber: 1,
    rate,
    pixelFormat: video.pix_fmt ?? "",
    layout: fetch.layout,
    reading: {
      transfer: transfer ?? (isRgb ? "srgb" : "bt709"),
      matrix: matrix ?? (video.height >= 720 ? "bt709" : "bt601"),
      range: isRgb || full ? "full" : "limited",
      siting: siting ?? "left"
    },
    stated: { transfer: !!transfer, matrix: !!matrix, range: video.color_range !== void 0 || full, siting: !!siting },
    pixelAspect: aspect ? aspect.num / aspect.den : 1,
    fieldOrder: video.field_order ?? "unknown",
    timecode,
    audio: audio ? { codec: audio.codec_name ?? "unknown", channels: audio.channels ?? 0, sampleRate: Number(audio.sample_rate ?? 0) } : null,
    warning: promised > times.length ? `The file promises ${promised} frames but only ${times.length} are there: it was cut short.` : null
  };
}

// src/server/media/sequences.ts
import path2 from "node:path";
function patternFile(pattern, number) {
  const name = path2.basename(pattern).replace(/%(0?)(\d*)d/, (_, zero2, width2) => String(number).padStart(Number(width2 || 1), zero2 ? "0" : " "));
  return path2.join(path2.dirname(pattern), name);
}

// src/server/media/frames.ts
var bytesOf = (f2) => f2.planes.reduce((n2, p2) => n2 + p2.byteLength, 0);
var AHEAD = 8;
var FrameReader = class {
  /**
   * @param file absolute path; a pattern for a sequence
   * @param maxBytes most bytes of decoded frames kept
   */
  constructor(file2, info2, maxBytes = 256 * 1024 * 1024) {
    this.file = file2;
    this.info = info2;
    this.maxBytes = maxBytes;
  }
  kept = /* @__PURE__ */ new Map();
  keptBytes = 0;
  pending = /* @__PURE__ */ new Map();
  index;
  /** @param number from 1 @throws Complaint when there is no such frame or it cannot be decoded */
  async frame(number) {
    if (!Number.isInteger(number) || number < 1 || number > this.info.frames)
      throw new Complaint(404, `There is no frame ${number}.`, `Frames run from 1 to ${this.info.frames}.`);
    const kept = this.kept.get(number);
    if (kept) {
      this.kept.delete(number);
      this.kept.set(number, kept);
      return kept;
    }
    const pending = this.pending.get(number);
    if (pending) return pending;
    if (this.info.kind !== "clip") return this.hold(number, this.decodeOne(number));
    const count = Math.min(this.ahead(), this.info.frames - number + 1);
    this.index ??= frameIndex(this.file);
    const batch = this.index.then((index) => decodeClipFrames(this.file, this.info, index, number, count));
    let first;
    for (let i = 0; i < count; i++) {
      if (this.kept.has(number + i) || this.pending.has(number + i)) continue;
      const one = this.hold(
        number + i,
        batch.then((frames) => {
          const frame = frames[i];
          if (!frame)
            throw new Complaint(
              422,
              `Frame ${number + i} cannot be decoded: the clip is damaged there.`,
              "Use the frames before it, or export the clip again."
            );
          return frame;
        })
      );
      if (i === 0) first = one;
      else one.catch(() => {
      });
    }
    return first;
  }
  /** Frames to decode in one go: no more than are kept, or the first would be gone before they are asked for. */
  ahead() {
    const fetch = fetchFor(this.info.pixelFormat);
    if (!fetch) return 1;
    const bytes = planeSizes(this.info.width, this.info.height, fetch.layout).reduce((n2, s2) => n2 + 2 * s2.width * s2.height, 0);
    return Math.max(1, Math.min(AHEAD, Math.floor(this.maxBytes / bytes)));
  }
  hold(number, decoding) {
    const held2 = decoding.then((frame) => {
      this.kept.set(number, frame);
      this.keptBytes += bytesOf(frame);
      for (const [n2, f2] of this.kept) {
        if (this.keptBytes <= this.maxBytes || n2 === number) break;
        this.kept.delete(n2);
        this.keptBytes -= bytesOf(f2);
      }
      return frame;
    }).finally(() => this.pending.delete(number));
    this.pending.set(number, held2);
    return held2;
  }
  async decodeOne(number) {
    const file2 = this.info.kind === "sequence" ? patternFile(this.file, this.info.firstNumber + number - 1) : this.file;
    const head = Buffer.alloc(16);
    let handle;
    try {
      handle = openSync(file2, "r");
    } catch {
      throw new Complaint(404, `Frame ${number} is missing on disk.`, "Bring the plate in again.");
    }
    try {
      readSync(handle, head, 0, 16, 0);
    } finally {
      closeSync(handle);
    }
    const frame = await decodeStill(file2, stillFormat(head));
    if (frame.width !== this.info.width || frame.height !== this.info.height)
      throw new Complaint(
        422,
        `Frame ${number} is ${frame.width}\xD7${frame.height}, the others ${this.info.width}\xD7${this.info.height}.`,
        "Bring in frames of one size."
      );
    return frame;
  }
};

// ../../tmp/lab/unmix-old.ts
var LEAST_FLOOR2 = 0.01;
var RAYS2 = 12;
var TOLERANCE2 = 0.022;
var GRAINY2 = 1.4;
var MOST_FLOOR2 = 0.025;
var FAR3 = 1.3;
var DEEPER2 = 1 / 12;
var NEARLY2 = 0.8;
var PRIOR2 = 0.25;
function unmix2(plate, key, allocate = fresh) {
  const { prior: prior2, screen, reach, follow } = key;
  const { width: width2, height: height2 } = plate;
  const n2 = width2 * height2;
  const back = isPicture(screen) ? screen : null;
  const empty = Math.max(LEAST_FLOOR2, key.floor);
  const solid = 1 - (key.waver || 1.5 * empty);
  const around2 = boxMean(prior2.data, width2, height2, 1);
  const calm2 = key.floor > 0 ? 1 - 1.5 * empty : Number.POSITIVE_INFINITY;
  const firm = maskOf(prior2.data, (a2, i) => a2 >= solid || a2 > NEARLY2 && around2[i] >= calm2);
  const tolerance = TOLERANCE2 + GRAINY2 * Math.min(MOST_FLOOR2, key.floor);
  const deeper = DEEPER2 * reach;
  const certain = maskOf(prior2.data, (a2) => a2 >= solid);
  const toCertain = distanceTo(certain, width2, height2, reach + 1);
  const known = new Uint8Array(n2);
  const [FR, FG, FB] = [new Float32Array(n2), new Float32Array(n2), new Float32Array(n2)];
  const meet = (j) => {
    known[j] = 1;
    const x = j % width2;
    let [r, g, b2, count] = [0, 0, 0, 0];
    for (let row = Math.max(0, j - x - width2); row <= j - x + width2 && row < n2; row += width2)
      for (let i = row + Math.max(0, x - 1); i <= row + Math.min(width2 - 1, x + 1); i++) {
        if (!certain[i]) continue;
        r += plate.r[i];
        g += plate.g[i];
        b2 += plate.b[i];
        count++;
      }
    FR[j] = r / count;
    FG[j] = g / count;
    FB[j] = b2 / count;
  };
  const directions = Array.from({ length: RAYS2 }, (_, k2) => {
    const t = 2 * Math.PI * (k2 + 0.5) / RAYS2;
    return { x: Math.cos(t), y: Math.sin(t) };
  });
  const data = allocate(n2);
  for (let i = 0; i < n2; i++) {
    const a2 = prior2.data[i];
    data[i] = key.floor > 0 && a2 <= empty ? 0 : key.floor > 0 && firm[i] ? 1 : a2;
  }
  const unknown = new Uint8Array(n2);
  const [R2, G2, B2] = [plate.r, plate.g, plate.b];
  for (let y = 0; y < height2; y++)
    for (let x = 0; x < width2; x++) {
      const i = y * width2 + x;
      const first = prior2.data[i];
      if (first <= empty || firm[i] || toCertain[i] > reach) continue;
      unknown[i] = 1;
      const br = back ? back.r[i] : screen.r;
      const bg = back ? back.g[i] : screen.g;
      const bb = back ? back.b[i] : screen.b;
      const [cr, cg, cb] = [R2[i] - br, G2[i] - bg, B2[i] - bb];
      let [sum, total, best] = [0, 0, 0];
      for (const d of directions) {
        let t = Math.max(1, toCertain[i]);
        let j = -1;
        while (t <= 2 * reach) {
          const px2 = Math.round(x + t * d.x);
          const py = Math.round(y + t * d.y);
          if (px2 < 0 || py < 0 || px2 >= width2 || py >= height2) break;
          const q = py * width2 + px2;
          if (certain[q]) {
            j = q;
            break;
          }
          t += Math.max(1, toCertain[q]);
        }
        if (j < 0) continue;
        const [dx, dy] = [Math.round(x + (t + deeper) * d.x), Math.round(y + (t + deeper) * d.y)];
        if (dx >= 0 && dy >= 0 && dx < width2 && dy < height2 && certain[dy * width2 + dx]) j = dy * width2 + dx;
        if (!known[j]) meet(j);
        const fr = FR[j] - br;
        const fg = FG[j] - bg;
        const fb = FB[j] - bb;
        const square = fr * fr + fg * fg + fb * fb;
        if (square < 1e-6) continue;
        let a2 = (cr * fr + cg * fg + cb * fb) / square;
        a2 = a2 < 0 ? 0 : a2 > 1 ? 1 : a2;
        const error = Math.sqrt(((cr - a2 * fr) ** 2 + (cg - a2 * fg) ** 2 + (cb - a2 * fb) ** 2) / square);
        const cost = error / tolerance;
        const fits = Math.exp(-cost * cost);
        const w = fits * Math.exp(-FAR3 * t / reach);
        sum += w * a2;
        total += w;
        if (fits > best) best = fits;
      }
      if (total > 0) {
        const trust = best / (best + PRIOR2 * (1 - best) ** 2);
        data[i] = trust * (sum / total) + (1 - trust) * first;
      }
    }
  if (follow <= 0) return { width: width2, height: height2, data };
  const smooth = guidedFilter(data, lumaOf(plate).data, width2, height2, 1, 1e-5);
  for (let i = 0; i < n2; i++)
    if (unknown[i]) data[i] = (1 - follow) * data[i] + follow * Math.min(1, Math.max(0, smooth[i]));
  return { width: width2, height: height2, data };
}

// bench/zz-b.mts
var file = path3.resolve("demo/footage/lh-010-veil-at-the-hive.mp4");
var info = await probeFile(file);
var raw = await new FrameReader(file, info).frame(1);
var p = decodeRawFrame(raw, info.reading);
var { recipe } = proposeRecipe(p, 1, void 0, { recorded: { raw, reading: info.reading } });
var pull = evaluate(recipe, { plate: { key: "a", picture: p, recorded: { raw, reading: info.reading } } }, { reduce: 1, outputs: ["pull"] }).pull;
var s = recipe.passes[0].matte.bounds;
var { width, height } = pull;
var n = width * height;
console.log(width, height, JSON.stringify(s));
var time = (name, f2) => {
  const t = [];
  for (let k2 = 0; k2 < 9; k2++) {
    const a2 = performance.now();
    f2();
    t.push(performance.now() - a2);
  }
  t.sort((a2, b2) => a2 - b2);
  console.log(name.padEnd(20), t[4].toFixed(1));
};
var calm = boxMean(pull.data, width, height, 1);
var present = new Uint8Array(n);
var thin = new Uint8Array(n);
for (let i = 0; i < n; i++) {
  present[i] = calm[i] > s.outLevel ? 1 : 0;
  thin[i] = calm[i] < s.inLevel ? 1 : 0;
}
time("copy", () => new Float32Array(4 * n).set(new Float32Array(4 * n)));
time("all", () => automaticBounds(pull, s, 1));
time("box1", () => boxMean(pull.data, width, height, 1));
time("mask", () => {
  for (let i = 0; i < n; i++) present[i] = calm[i] > s.outLevel ? 1 : 0;
});
time("label present", () => labelComponents(present, width, height));
time("label thin", () => labelComponents(thin, width, height));
time("dist present", () => distanceTo(present, width, height, s.grow + s.soft + 1));
time("dist thin", () => distanceTo(thin, width, height, s.shrink + s.soft + 1));
var L = labelComponents(thin, width, height);
time("lowest", () => {
  const lowest = new Float32Array(L.areas.length).fill(1);
  for (let i = 0; i < n; i++) {
    const label = L.labels[i];
    if (label) lowest[label] = Math.min(lowest[label], calm[i]);
  }
});
time("crowd", () => boxMean(new Float32Array(thin), width, height, Math.ceil(2 * s.shrink)));
var ramp2 = (v) => v <= 0 ? 0 : v >= 1 ? 1 : v * v * (3 - 2 * v);
var tp = distanceTo(present, width, height, s.grow + s.soft + 1);
time("ramps", () => {
  const out = new Float32Array(n);
  const h = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    out[i] = ramp2((tp[i] - s.grow) / s.soft);
    h[i] = ramp2((tp[i] - s.shrink) / s.soft);
  }
});
var clean = synthesiseCleanPlate(p, "g");
var prior = evaluate({ ...recipe, passes: [{ ...recipe.passes[0], pull: { ...recipe.passes[0].pull, method: "subject-difference" } }] }, { plate: { key: "a", picture: p, recorded: { raw, reading: info.reading } } }, { reduce: 1, outputs: ["pull"] }).pull;
var um = recipe.passes[0].pull.unmix;
var k = { screen: clean, prior, ...um };
var a;
var b;
time("unmix old", () => {
  a = unmix2(p, k);
});
time("unmix new", () => {
  b = unmix(p, k);
});
var worst = 0;
for (let i = 0; i < n; i++) worst = Math.max(worst, Math.abs(a.data[i] - b.data[i]));
console.log("differs by", worst, "unknown", prior.data.filter((v) => v > 0.02 && v < 0.96).length);
time("dist", () => distanceTo(present, width, height, 49));
time("box", () => boxMean(prior.data, width, height, 1));
