/** The nonce that this page's policy asks of style sheets made in the page. */
export const styleNonce = (): string | undefined =>
  document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce
