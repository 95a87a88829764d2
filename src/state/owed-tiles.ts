/** By project: painted tiles that could not be stored yet. The sheet worker alone has them, so it lets none of them go. */
export const owedTiles = new Map<string, Set<string>>()
