/** What time it was, ms since 1970, when so many samples had been captured. */
export interface KeptTime {
  sample: number;
  at: number;
}
