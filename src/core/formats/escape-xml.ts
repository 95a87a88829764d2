/** Text as it may stand between tags and in attributes of an XML 1.0 file; characters it does not allow are left out. */
export const escapeXml = (text: string): string =>
  text
    .replace(/[^\t\n\r\u{20}-\u{d7ff}\u{e000}-\u{fffd}\u{10000}-\u{10ffff}]/gu, '')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;')
