import { readGuide } from '../pages'

/** The guide as it is when the application is built. */
export const dynamic = 'force-static'

export const GET = (): Response => Response.json(readGuide())
