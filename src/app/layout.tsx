import type { Metadata } from 'next'
import type { ReactNode } from 'react'
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter'
import '@fontsource-variable/instrument-sans'
import '@fontsource-variable/fraunces'
import { Providers } from '@/ui/providers'
import './globals.css'

export const metadata: Metadata = {
  title: 'Muted Relief',
  description: 'Passes from 3D models, layered into illustrations.',
}

export default function RootLayout({ children }: { children: ReactNode }) {
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
