/** The first letter of a phrase, as it begins a line or stands within one. */
export const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);
/** An acronym stays as it is. */
export const lower = (s: string) => (/^\p{Lu}\p{Lu}/u.test(s) ? s : s.charAt(0).toLowerCase() + s.slice(1));
