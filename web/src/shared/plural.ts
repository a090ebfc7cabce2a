/** A count with its word. */
export const plural = (n: number, one: string, many = one + 's') => `${n} ${n === 1 ? one : many}`;
