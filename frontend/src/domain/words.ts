/** A text with its first letter in upper case, as a sentence begins. */
export const capitalized = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
