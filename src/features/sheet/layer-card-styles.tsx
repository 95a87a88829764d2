import { pageStyles } from '@/ui/page-styles'

const PALE =
  ".card[data-peeled='true'], .wash-pane[data-peeled='true'], :is(.tray[data-peeled='true'], .tray[data-hidden='true']) :is(.card, .wash-pane)"

const styles = {
  '.card': {
    position: 'relative',
    width: 106,
    flex: 'none',
    height: 'var(--card-height, 134px)',
    background: 'var(--raised)',
    border: '1px solid var(--rule-strong)',
    borderRadius: 5,
    overflow: 'hidden',
    transition: 'transform 140ms, opacity 140ms',
    cursor: 'grab',
    display: 'flex',
    flexDirection: 'column',
    userSelect: 'none',
  },
  ".card[aria-selected='true']": {
    border: '2px solid var(--clay)',
    transform: 'translateY(-5px)',
    boxShadow: '0 5px 12px #0002',
  },
  // Of several that are chosen one leads.
  ".card[aria-selected='true'][data-leads='false'], .wash-pane[aria-selected='true'][data-leads='false']": {
    borderColor: 'var(--slate)',
  },
  ".card[data-peeled='true']": {
    transform: 'rotate(3deg) translateY(4px)',
  },
  // What is lifted or hidden is pale; its words can be read all the same.
  [PALE]: {
    background: 'transparent',
    boxShadow: 'none',
    color: 'var(--ink-3)',
  },
  [`:is(${PALE}) :is(.card-name, .card-mode, .card-mode b, .wash-name)`]: {
    color: 'var(--ink-3)',
    fontWeight: 400,
  },
  [`:is(${PALE}) :is(.card-picture, .card-edge, .wash-sign)`]: { opacity: 0.4 },
  ".card[data-register='out']": {
    borderStyle: 'dashed',
    borderColor: 'var(--ochre-ring)',
  },
  // A confined card leans on the one it is confined to.
  ".card[data-confined='true']": {
    transform: 'rotate(-2.5deg) translateX(-5px)',
  },
  // A pressing has a thick lower edge.
  ".card[data-pressed='true']": { borderBottomWidth: 4 },
  // A folded group: its cards stand one behind another.
  ".card[data-folded='true']": {
    boxShadow:
      '3px -3px 0 -1px var(--raised), 3px -3px 0 0 var(--rule-strong), 6px -6px 0 -1px var(--raised), 6px -6px 0 0 var(--rule-strong)',
    marginRight: 6,
  },
  '.card-gate': {
    position: 'absolute',
    left: 6,
    right: 6,
    bottom: 4,
    height: 6,
    borderRadius: 3,
    background: 'linear-gradient(to right, #000, #fff)',
    border: '1px solid #26221d',
  },
  '.card-gate i': {
    position: 'absolute',
    top: -3,
    bottom: -3,
    border: '2px solid var(--clay)',
    borderRadius: 3,
  },
  '.wash-pane': {
    position: 'relative',
    width: 44,
    flex: 'none',
    height: 'var(--card-height, 134px)',
    background: 'linear-gradient(115deg, #fff8, #fff2 45%, #fff6)',
    border: '1px solid var(--rule-strong)',
    borderRadius: 5,
    display: 'flex',
    flexDirection: 'column',
    alignItems: 'center',
    cursor: 'grab',
    userSelect: 'none',
    transition: 'transform 140ms, opacity 140ms',
  },
  ".wash-pane[aria-selected='true']": {
    border: '2px solid var(--clay)',
    transform: 'translateY(-5px)',
  },
  // Turned with its pane it would lie across the cards it works on.
  ".wash-pane[data-peeled='true'] .wash-bracket": { display: 'none' },
  ".wash-pane[data-peeled='true']": {
    transform: 'rotate(3deg) translateY(4px)',
  },
  ".wash-pane[data-hidden='true']": { borderStyle: 'dashed' },
  '.wash-sign': {
    width: 30,
    height: 30,
    margin: '6px 0 4px',
    flex: 'none',
    borderRadius: 3,
    border: '1px solid var(--rule)',
    background: 'var(--raised)',
  },
  '.wash-name': {
    writingMode: 'vertical-rl',
    flex: 1,
    minHeight: 0,
    fontSize: 12,
    fontWeight: 620,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '.wash-pane .card-edge': {
    width: '100%',
    marginTop: 3,
    borderRadius: '0 0 4px 4px',
    overflow: 'hidden',
  },
  '.wash-bracket': {
    position: 'absolute',
    right: -1,
    bottom: -6,
    height: 5,
    border: '1.5px solid var(--slate)',
    borderTop: 0,
    borderRadius: '0 0 3px 3px',
    pointerEvents: 'none',
  },
  '.card-picture': {
    height: 'calc(var(--card-height, 134px) - 52px)',
    background: 'repeating-conic-gradient(#dcd8d0 0 25%, #efece6 0 50%) 0 0 / 10px 10px',
    position: 'relative',
    flex: 'none',
  },
  '.card-picture canvas': {
    width: '100%',
    height: '100%',
    display: 'block',
  },
  ".card[data-hidden='true'] .card-picture canvas": {
    opacity: 0,
  },
  ".card[data-hidden='true'] .card-picture": {
    background: 'none',
    borderBottom: '1px dashed var(--rule-strong)',
  },
  '.card-corner': {
    position: 'absolute',
    right: 0,
    top: 0,
    width: 0,
    height: 0,
    borderTop: '20px solid #26221d',
    borderLeft: '20px solid transparent',
  },
  '.card-text': {
    padding: '3px 8px 0',
    lineHeight: 1.35,
    minWidth: 0,
    flex: 1,
  },
  // A marker is a ribbon along the upper edge, a lock a small staple.
  ".card[data-marker]:not([data-marker='none'])::before": {
    content: '""',
    position: 'absolute',
    zIndex: 1,
    top: 0,
    left: 8,
    width: 22,
    height: 7,
    borderRadius: '0 0 3px 3px',
    background: 'var(--marker)',
  },
  ".card[data-marker='clay']": { '--marker': 'var(--clay)' },
  ".card[data-marker='slate']": { '--marker': 'var(--slate)' },
  ".card[data-marker='ochre']": { '--marker': '#c07a35' },
  ".card[data-marker='moss']": { '--marker': '#6d7f3f' },
  ".card[data-marker='plum']": { '--marker': '#79506f' },
  '.card-lock': {
    display: 'inline-block',
    width: 9,
    height: 5,
    marginLeft: 5,
    borderRadius: 1,
    border: '1.5px solid currentColor',
    borderTopWidth: 3,
  },
  '.card-name': {
    fontWeight: 620,
    whiteSpace: 'nowrap',
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
  '.card-mode': {
    display: 'flex',
    justifyContent: 'space-between',
    fontSize: 11.5,
    color: 'var(--ink-2)',
    whiteSpace: 'nowrap',
    gap: 4,
  },
  '.card-mode > span:first-child': {
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
  '.card-edge': {
    height: 9,
    background: 'var(--rule)',
    cursor: 'ew-resize',
    flex: 'none',
    touchAction: 'none',
  },
  '.card-edge > div': {
    height: '100%',
    background: 'var(--slate)',
  },
  ".card[aria-selected='true'] .card-edge > div": {
    background: 'var(--clay)',
  },
  // A mask that was painted bears a stroke.
  ".card-corner[data-painted='true']::after": {
    content: '""',
    position: 'absolute',
    right: 3,
    top: -18,
    width: 9,
    height: 3,
    borderRadius: '3px 1px',
    background: '#f4efe6',
    transform: 'rotate(45deg)',
  },
  ".card-corner[data-lost='true']": {
    borderTopColor: 'var(--ochre-ring)',
  },
} as const

export const LayerCardStyles = pageStyles(styles)
