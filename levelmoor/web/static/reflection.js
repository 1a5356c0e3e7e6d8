// What a reflection coefficient says, written as the server writes it: the one place of the scripts that knows.

export function frequency(hz) {
  const [whole, fraction] = (hz / 1e6).toFixed(6).split(".");
  const kept = fraction.endsWith("000") ? fraction.slice(0, 3) : fraction;
  return `${whole}.${kept.match(/.{1,3}/g).join("\u202f")} MHz`;
}

export function returnLoss(magnitude) {
  return -20 * Math.log10(Math.max(magnitude, 1e-6));
}

// SWR, return loss, R and X in words; of a scalar sweep R and X are not known.
export function reflection([re, im], z0, scalar) {
  const magnitude = Math.hypot(re, im);
  const swr = magnitude < 1 ? (1 + magnitude) / (1 - magnitude) : Infinity;
  const away = (1 - re) ** 2 + im ** 2;
  const known = !scalar && away > 0;
  return {
    swr: Number.isFinite(swr) ? swr.toFixed(swr < 10 ? 2 : 1) : "infinite",
    rl: magnitude > 0 ? `${returnLoss(magnitude).toFixed(1)} dB` : "no reflection",
    r: known ? `${((z0 * (1 - re * re - im * im)) / away).toFixed(1)} Ω` : "not known",
    x: known ? `${im < 0 ? "−" : "+"}${Math.abs((z0 * 2 * im) / away).toFixed(1)} Ω` : "not known",
  };
}
