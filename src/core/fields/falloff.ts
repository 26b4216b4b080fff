/** How nearness falls off over a way 0…1, from 1 to 0; one set of words for beacons and conditions by a distance. */
export const FALLOFFS = {
  straight: (away: number) => 1 - away,
  steep: (away: number) => (1 - away) * (1 - away),
  round: (away: number) => Math.sqrt(1 - away * away),
} as const
