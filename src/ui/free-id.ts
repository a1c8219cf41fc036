/** An id from a name: small letters, digits and hyphens, not yet taken. */
export function freeId(name: string, taken: readonly string[]): string {
  const plain = name.toLowerCase().normalize('NFKD').replace(/[^a-z0-9]+/g, '-').slice(0, 30);
  const base = plain.replace(/^-+|-+$/g, '') || 'unnamed';
  let id = base;
  for (let k = 2; taken.includes(id); k++) id = `${base}-${k}`;
  return id;
}
