import Link from 'next/link'

export default function NotFound() {
  return (
    <main className="empty">
      <h1 className="display">There is nothing here</h1>
      <p>This address leads to no page of Muted Relief. Your projects are all on the first one.</p>
      <Link href="/">All projects</Link>
    </main>
  )
}
