import type { Metadata } from 'next'
import { connection } from 'next/server'
import type { ReactNode } from 'react'
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter'
import '@fontsource-variable/instrument-sans'
import '@fontsource-variable/fraunces'
import { Providers } from '@/ui/providers'

export const metadata: Metadata = {
  title: 'Muted Relief',
  description: 'Passes from 3D models, layered into illustrations.',
}

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Rendered for each request: its scripts bear the nonce of that request's policy (src/proxy.ts).
  await connection()
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <AppRouterCacheProvider options={{ enableCssLayer: true }}>
          <Providers>{children}</Providers>
        </AppRouterCacheProvider>
      </body>
    </html>
  )
}
