/** A record of a set is what none may be: the set was not written, or not in full. */
export class Unfit extends Error {}
