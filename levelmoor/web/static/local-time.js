// A moment in this device's clock, which is the one on the bench too: to the minute, or to the second.
export function localTime(at, seconds = false) {
  return new Date(at.getTime() - at.getTimezoneOffset() * 60000).toISOString().slice(0, seconds ? 19 : 16);
}
