import { z } from 'zod'

/** The user's guide within the application: pages of text, found by their words. */
export const guideSchema = z.object({
  pages: z.array(
    z.object({
      slug: z.string(),
      title: z.string(),
      group: z.string(),
      /** Made of the project's own documents when it is built. */
      html: z.string(),
      sections: z.array(z.object({ anchor: z.string(), title: z.string(), text: z.string() })),
    }),
  ),
})
export type Guide = z.infer<typeof guideSchema>
export type GuidePage = Guide['pages'][number]

let loading: Promise<Guide> | null = null

/** The guide, read once. @throws {Error} where the server of the application is away. */
export const loadGuide = (): Promise<Guide> =>
  (loading ??= fetch('/guide/content')
    .then(async (reply) => {
      if (!reply.ok) throw new Error(`the guide cannot be read (${reply.status})`)
      return guideSchema.parse(await reply.json())
    })
    .catch((error: unknown) => {
      loading = null
      throw error
    }))
