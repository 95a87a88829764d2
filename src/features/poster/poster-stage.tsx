'use client'

import { useState, type ReactNode, type RefObject } from 'react'
import { useSnackbar } from 'notistack'
import { PICTURE_ACCEPT } from '@/core/formats/picture-kinds'
import { STOCKS } from '@/data/page-inks'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { useViewStore } from '@/state/view-store'
import { PictureView } from '@/ui/picture-view'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { seenMaskOf } from '../sheet/compare-sides'
import { addPictureLayer } from '../sheet/layer-actions'
import { ProofCanvas } from '../sheet/proof-canvas'
import { ProofLook } from '../sheet/proof-look'
import { SeenAsFilters, seenStyle } from '../sheet/seen-as'
import { SOFT_PROOF, SoftProofFilter } from './soft-proof'

interface PosterStageProps {
  readonly project: Project
  readonly sheet: ProjectSheet
  readonly label: string
  /** Opens the choice of a picture's file. */
  readonly inputRef: RefObject<HTMLInputElement | null>
  readonly isSquinting: boolean
  /** The same sheet as it is to be seen instead: one of its plates. */
  readonly seen?: ProjectSheet | null
  readonly onPick: (x01: number, y01: number) => void
  readonly status: ReactNode
  /** Handles and lines over the picture. */
  readonly children?: ReactNode
}

/** A page or a mock-up in the middle of its bench; a picture dropped there becomes a layer. */
export function PosterStage(props: PosterStageProps) {
  const { project, sheet, label, inputRef, isSquinting } = props
  const { enqueueSnackbar } = useSnackbar()
  const seenAs = useViewStore((s) => s.seenAs)
  const isProofed = useViewStore((s) => s.isProofed) && sheet.page !== undefined
  const layerId = useViewStore((s) => s.layerId)
  const maskSeen = useViewStore((s) => s.maskSeen)
  const masked = layerId === null ? undefined : (sheet.nodes[layerId] as SheetNode | undefined)
  const seenMask =
    masked?.mask && maskSeen !== 'off' ? seenMaskOf(sheet, masked.id, maskSeen, Infinity) : null
  const [look] = useState(() => new ProofLook())
  const [problem, setProblem] = useState<string | null>(null)
  const addPicture = async (file: File | undefined) => {
    if (!file) return
    try {
      await addPictureLayer(file)
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  return (
    <>
      <SeenAsFilters />
      {sheet.page && <SoftProofFilter stock={sheet.page.stock ?? STOCKS[0].stock} />}
      <input
        ref={inputRef}
        type="file"
        accept={PICTURE_ACCEPT}
        hidden
        data-testid="picture-input"
        onChange={(e) => {
          void addPicture(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <div
        style={{ display: 'grid', minWidth: 0, minHeight: 0, position: 'relative' }}
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault()
          void addPicture(e.dataTransfer.files[0])
        }}
      >
        <PictureView
          width={sheet.width}
          height={sheet.height}
          picture={
            <div
              style={{
                position: 'absolute',
                inset: 0,
                ...seenStyle(seenAs, false),
                // What stays of it when its details are lost.
                ...(isSquinting
                  ? { filter: 'blur(9px) contrast(1.15)' }
                  : isProofed && { filter: SOFT_PROOF }),
              }}
            >
              <ProofCanvas
                project={project}
                look={look}
                label={label}
                sheet={props.seen ?? seenMask}
                onProblem={setProblem}
              />
            </div>
          }
          onLook={look.take}
          onPick={props.onPick}
          status={
            <>
              {props.status}
              {problem && <span role="alert">{problem}</span>}
            </>
          }
        >
          {props.children}
        </PictureView>
      </div>
    </>
  )
}
