/** How far something is: `share01` is 0…1, or null while that is not known. */
export function ProgressBar({ label, share01 }: { label: string; share01: number | null }) {
  const percent = share01 === null ? undefined : Math.round(100 * share01)
  return (
    <div
      className="progress"
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={percent}
    >
      <div style={{ width: `${percent ?? 0}%` }} />
    </div>
  )
}
