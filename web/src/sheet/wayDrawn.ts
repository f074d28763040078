/** One of the ways in which a section can be carried: as a parameter, in a word, in a sentence, and as lines of a small picture 44 wide and 28 high. */
export interface WayDrawn {
  value: string;
  word: string;
  tells: string;
  /** Where the path runs, and what stands on it. */
  path: string;
  ink: string;
}
