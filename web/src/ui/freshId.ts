/** An id that begins so and that nothing has yet: the base itself, or with the next free number. */
export function freshId(base: string, isTaken: (id: string) => boolean): string {
  let id = base;
  for (let n = 2; isTaken(id); n++) id = `${base}-${n}`;
  return id;
}
