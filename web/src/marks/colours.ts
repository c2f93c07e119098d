/** How a band looks on screen: a colour, and two letters (IEC 60757, from memory) for who cannot tell it. */
export const BANDS = {
  black: { letters: "BK", fill: "#1b1b1b" },
  brown: { letters: "BN", fill: "#7a4a21" },
  red: { letters: "RD", fill: "#c1272d" },
  orange: { letters: "OG", fill: "#e8822a" },
  yellow: { letters: "YE", fill: "#efd33a" },
  green: { letters: "GN", fill: "#2f8f4e" },
  blue: { letters: "BU", fill: "#2b62b8" },
  violet: { letters: "VT", fill: "#7d4a9e" },
  grey: { letters: "GY", fill: "#8d9196" },
  white: { letters: "WH", fill: "#f7f7f4" },
  gold: { letters: "GD", fill: "#b8923a" },
  silver: { letters: "SR", fill: "#c6cace" },
  pink: { letters: "PK", fill: "#e79ab0" },
} as const;
export type Colour = keyof typeof BANDS;
export const COLOURS = Object.keys(BANDS) as Colour[];
export const isColour = (name: string): name is Colour => name in BANDS;
