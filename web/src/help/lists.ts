/** How figures are written: for the short help and the page of it. */
export const WRITING: [string, string][] = [
  ["4k7  4.7 kΩ  4700", "the same resistance"],
  ["R47  0R1  5L0", "0.47 Ω, 0.1 Ω, 5 mΩ"],
  ["3V3  250 mV", "voltages"],
  ["80 µA  80 uA", "the same current"],
  ["1 %  0.01", "the same fraction"],
  ["m and M", "milli and mega: the one case that matters"],
  ["11 to 14.4 V  48 V ± 10 %", "a supply over a range; a window may be 2.9 to 3.1 V"],
  ["50 mV  +5/-0 %", "an accepted deviation in volts or ohms, or with two sides"],
  ["10:1  a third  25 %", "an output as a share of its supply"],
  ["drawer", "in place of a series: your own stock"],
  ["30, 40  3x 100, 220", "in place of a series: these values, and so many"],
  ["R2 0.1 % 25 ppm/K", "a part of its own; also its size: R1 1206"],
  ["1k + @A + (2k || 3k)", "a network: series, a named junction, parallel"],
];
