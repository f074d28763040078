/** The palette: paper and ink, one colour for each meaning. */
export const colours = {
  paper: "#F5F0E6",
  panel: "#FFFDF8",
  ink: "#22313A",
  inkSoft: "#55626A",
  hairline: "#D9D0BF",
  buoy: "#D9522B",
  buoyText: "#B23C18",
  buoyWash: "#FBE7DF",
  estuary: "#2F6F73",
  estuaryWash: "#E1ECEA",
  brass: "#B08A3C",
  brassText: "#7A5C1E",
  amber: "#8A5A00",
  amberWash: "#FDF3DC",
  amberLine: "#D9A94A",
  brick: "#A3341F",
  brickWash: "#FBE6E1",
  body: "#BFCBC6",
  inside: "#C9B79A",
} as const;

/** How sharply a skin bends: dark to both sides, and apart for every eye by how dark. */
export const bendColours = { hollow: "#1F4E79", flat: "#F1EADB", round: "#B0457E" } as const;
