declare const brand: unique symbol

/** A type of its own over a plain one, so that what counts one thing is not taken for what counts another. */
export type Brand<Plain, Name extends string> = Plain & { readonly [brand]: Name }
