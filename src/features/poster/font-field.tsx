'use client'

import { memo, useRef, useState } from 'react'
import { useSnackbar } from 'notistack'
import ListSubheader from '@mui/material/ListSubheader'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { CATALOGUE, catalogueFont } from '@/core/type/font-catalogue'
import type { Project } from '@/data/project-schema'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { changeContent } from '../sheet/layer-actions'
import { bringFont } from './bring-font'
import { faceName, FontStyles } from './font-styles'
import { useFontFacts } from './use-font-facts'

interface FontFieldProps {
  readonly projectId: string
  readonly fonts: Project['fonts']
  readonly layerId: string
  readonly content: ContentOf<'type'>
}

const GROUPS = [...new Set(CATALOGUE.map(({ group }) => group))]
/** One of each family: its first. */
const FAMILIES = CATALOGUE.filter(
  (font, i) => CATALOGUE.findIndex(({ family }) => family === font.family) === i,
)

/** What a block is set in: its family, style, and where along its axes. */
export const FontField = memo(function FontField({ projectId, fonts, layerId, content }: FontFieldProps) {
  const { enqueueSnackbar } = useSnackbar()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const inputRef = useRef<HTMLInputElement>(null)
  const shipped = catalogueFont(content.fontId)
  const own = fonts.find(({ id }) => id === content.fontId)
  const facts = useFontFacts(projectId, own ? content.fontId : null)
  const styles = shipped ? CATALOGUE.filter(({ family }) => family === shipped.family) : []
  const axes = shipped?.axes ?? facts?.axes ?? []
  const setFont = (fontId: string) =>
    changeContent(layerId, 'type', 'family', (type) => {
      type.fontId = fontId
      type.axes = {}
    })
  const bring = async (file: File | undefined) => {
    if (!file) return
    try {
      setFont(await bringFont(file))
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  return (
    <section className="section">
      <FontStyles />
      <input
        ref={inputRef}
        type="file"
        accept=".ttf,.otf,.woff,.woff2"
        hidden
        data-testid="font-input"
        onChange={(e) => {
          void bring(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <div className="row">
        <span className="label" id="family-label">
          Family
        </span>
        <button
          className="plain-select wide"
          aria-labelledby="family-label family-value"
          aria-haspopup="menu"
          data-testid="family"
          style={{ fontFamily: shipped ? faceName(shipped.id) : undefined, fontSize: 18, textAlign: 'right' }}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <span id="family-value">{shipped?.family ?? own?.name ?? 'A font that is gone'}</span>
        </button>
      </div>
      {styles.length > 1 && (
        <SelectRow id="font-style" label="Style" value={content.fontId} onChange={setFont}>
          {styles.map(({ id, style }) => (
            <option key={id} value={id}>
              {style}
            </option>
          ))}
        </SelectRow>
      )}
      {axes.map((axis) => (
        <NumberField
          key={axis.tag}
          label={axis.label}
          value={content.axes[axis.tag] ?? axis.default}
          min={axis.min}
          max={axis.max}
          step={axis.max - axis.min > 20 ? 1 : 0.01}
          defaultValue={axis.default}
          onChange={(value) =>
            changeContent(
              layerId,
              'type',
              axis.label.toLowerCase(),
              (type) => void (type.axes[axis.tag] = value),
              axis.tag,
            )
          }
        />
      ))}
      <details className="param-group">
        <summary>
          <span>Licence</span>
          <span className="quiet">{shipped?.licence ?? 'as it says'}</span>
        </summary>
        <p className="quiet" style={{ margin: '2px 0 6px', overflowWrap: 'anywhere' }}>
          {shipped ? shipped.attribution : own?.licence || 'It names none.'}
        </p>
      </details>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        container={() => anchor?.closest('main') ?? null}
        onClose={() => setAnchor(null)}
        slotProps={{ paper: { sx: { maxHeight: 460, width: 264 } } }}
      >
        <MenuItem
          dense
          onClick={() => {
            setAnchor(null)
            inputRef.current?.click()
          }}
        >
          Bring a font from a file
        </MenuItem>
        {fonts.length > 0 && (
          <ListSubheader role="presentation" sx={{ lineHeight: '28px' }}>
            Brought
          </ListSubheader>
        )}
        {fonts.map(({ id, name }) => (
          <MenuItem
            dense
            key={id}
            selected={id === content.fontId}
            onClick={() => {
              setAnchor(null)
              setFont(id)
            }}
          >
            {name}
          </MenuItem>
        ))}
        {GROUPS.flatMap((group) => [
          <ListSubheader key={group} role="presentation" sx={{ lineHeight: '28px' }}>
            {group}
          </ListSubheader>,
          ...FAMILIES.filter((font) => font.group === group).map((font) => (
            <MenuItem
              key={font.id}
              selected={font.family === shipped?.family}
              sx={{ fontFamily: `"${faceName(font.id)}"`, fontSize: 21, py: 0.25 }}
              onClick={() => {
                setAnchor(null)
                setFont(font.id)
              }}
            >
              {font.family}
            </MenuItem>
          )),
        ])}
      </Menu>
    </section>
  )
})
