/** What a guest agrees to before anybody hears them. The words are kept with every take. */
export const consentWording = (show: string, host: string): string =>
  `I agree that my voice is recorded on a track of its own for ${show}, by my own browser as well, and that ${host} may edit and publish it.`;
