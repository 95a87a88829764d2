'use client'

import { useId, useState } from 'react'
import Button from '@mui/material/Button'
import { MATTES_BY, type MattesBy } from '@/core/formats/coverage-mattes'
import { safeFileName } from '@/core/formats/safe-file-name'
import { plural } from '@/core/plural'
import { activeShot } from '@/data/active-shot'
import { contactPage } from '@/data/contact-page'
import { lookOnSheet } from '@/data/look-on-sheet'
import type { Project } from '@/data/project-schema'
import { passesAsExr } from '@/data/storage-service'
import { attemptExport, tellExport } from '@/state/export-work'
import { useActions } from '@/state/actions'
import { renderedNow } from '@/state/rendered-now'
import { posterPdfFile } from '@/state/sheet-sync'
import { saveFile } from '@/ui/save-file'
import { SwitchRow } from '@/ui/switch-row'

interface PassesSectionProps {
  readonly project: Project
  /** What is being written now, or null. */
  readonly busy: string | null
}

const MATTE_LABELS: Readonly<Record<MattesBy, string>> = {
  part: 'Parts',
  material: 'Materials',
  group: 'Groups',
}

/** The passes of the shot at work as one file for other programs. */
export function PassesSection({ project, busy }: PassesSectionProps) {
  const id = useId()
  const [mattes, setMattes] = useState<readonly MattesBy[]>(['part'])
  const [isHalf, setHalf] = useState(false)
  const own = project.passes.filter(({ shotId, rendered }) => shotId === project.shotId && rendered)
  const [first] = own
  // Of passes of several sizes those like the first go together.
  const fitting = own.filter(
    ({ rendered }) =>
      rendered?.width === first?.rendered?.width && rendered?.height === first?.rendered?.height,
  )
  const idPass = fitting.find(({ kind }) => kind === 'id')
  const left = own.length - fitting.length
  const name = `${safeFileName(project.name)}_${safeFileName(activeShot(project).name)}_passes.exr`
  const write = () =>
    attemptExport('Passes', async (signal) => {
      const layers = fitting.flatMap((pass) => {
        const rendered = renderedNow(project, pass)
        return rendered ? [{ name: pass.name, rendered, look: lookOnSheet(project, pass.id, pass.kind) }] : []
      })
      const message = {
        projectId: project.id,
        layers,
        mattes: idPass ? [...mattes] : [],
        idPass: idPass && mattes.length > 0 ? renderedNow(project, idPass) : null,
        precision: isHalf ? ('half' as const) : ('kept' as const),
      }
      saveFile(name, await passesAsExr(message, signal, tellExport))
      return `${name} is with your downloads: ${plural(layers.length, 'pass', 'passes')}.`
    })
  const contactName = `${safeFileName(project.name)}_${safeFileName(activeShot(project).name)}_contact.pdf`
  const writeContact = () =>
    attemptExport('Contact sheet', async (signal) => {
      const made = contactPage(project)
      if (!made?.page.page) throw new Error('no pass of this shot is rendered')
      const { widthMm, heightMm, bleedMm, marks } = made.page.page
      const message = {
        paper: { widthMm, heightMm, bleedMm, marks: { ...marks } },
        options: { title: `${project.name}, ${activeShot(project).name}`, author: '', outlines: false },
      }
      const file = await posterPdfFile(made.project, made.page, message, tellExport, signal)
      saveFile(contactName, file, 'application/pdf')
      return `${contactName} is with your downloads.`
    })
  useActions('Passes as a file', [
    { id: 'passes', label: 'Export the passes as one EXR', run: () => void write() },
    { id: 'contact', label: 'Export a contact sheet as PDF', run: () => void writeContact() },
  ])
  return (
    <section className="section" aria-labelledby={`${id}-head`}>
      <div className="section-head" id={`${id}-head`}>
        The passes
      </div>
      <p className="quiet" style={{ marginTop: 0 }}>
        One EXR with every channel of {plural(fitting.length, 'rendered pass', 'rendered passes')}, without
        loss. It holds neither the sheet’s layers nor its modes and masks.
        {left > 0 && ` ${plural(left, 'pass is', 'passes are')} of another size and left out.`}
      </p>
      <div role="group" aria-labelledby={`${id}-mattes`}>
        <p className="quiet" id={`${id}-mattes`}>
          Mattes for programs that know them, of
        </p>
        {MATTES_BY.map((by) => (
          <SwitchRow
            key={by}
            label={MATTE_LABELS[by]}
            note="Of each pixel what covers it and how much, made from the ID pass"
            checked={idPass !== undefined && mattes.includes(by)}
            disabled={idPass === undefined}
            onChange={(on) => setMattes(on ? [...mattes, by] : mattes.filter((other) => other !== by))}
          />
        ))}
      </div>
      {idPass === undefined && <p className="quiet">Mattes want a rendered ID pass.</p>}
      <SwitchRow
        label="Half floats"
        note="Half as many bits of what is a fraction; mattes stay exact"
        checked={isHalf}
        onChange={setHalf}
      />
      <Button
        variant="outlined"
        fullWidth
        sx={{ marginTop: 1 }}
        disabled={busy !== null || fitting.length === 0}
        onClick={() => void write()}
        data-testid="export-passes"
      >
        {busy === 'Passes' ? 'Writing …' : 'Export the passes'}
      </Button>
      <Button
        variant="outlined"
        fullWidth
        sx={{ marginTop: 1 }}
        disabled={busy !== null || own.length === 0}
        title="All of them side by side on one page, with their names"
        onClick={() => void writeContact()}
        data-testid="export-contact"
      >
        {busy === 'Contact sheet' ? 'Writing …' : 'Contact sheet, PDF'}
      </Button>
    </section>
  )
}
