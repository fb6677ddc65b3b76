/** A change that an owner asks for: it is done, or what is wrong stands above. */
export type Change = (work: Promise<unknown>) => Promise<boolean>
