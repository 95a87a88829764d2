/** Black or white, whichever reads better on a grey: 4.6 to 1 at least (WCAG 2.2, relative luminance). */
export function inkOn(grey01: number): '#000' | '#fff' {
  const luminance = grey01 <= 0.04045 ? grey01 / 12.92 : ((grey01 + 0.055) / 1.055) ** 2.4
  return luminance > 0.179 ? '#000' : '#fff'
}
