/** How figures are written: for the short help and the page of it. */
export const WRITING: [string, string][] = [
  ["4k7  4.7 kΩ  4700", "the same resistance"],
  ["R47  0R1  5L0", "0.47 Ω, 0.1 Ω, 5 mΩ"],
  ["3V3  250 mV", "voltages"],
  ["80 µA  80 uA", "the same current"],
  ["1 %  0.01", "the same fraction"],
  ["m and M", "milli and mega: the one case that matters"],
  ["drawer", "in place of a series: your own stock"],
  ["R2 0.1 % 25 ppm/K", "a part of its own; also its size: R1 1206"],
  ["1k + @A + (2k || 3k)", "a network: series, a named junction, parallel"],
];
