import { useState } from 'react'
import { Button } from '#shared/ui/parts'
import { apiRoot } from '#shared/lib/past'

/** A picture before and after a change, by the hashes of its contents; null where it was not there. */
export interface PictureSides {
  path: string
  before: string | null
  after: string | null
  repository: string
}

const WAYS = { beside: 'side by side', over: 'over each other', difference: 'difference' } as const
type Way = keyof typeof WAYS

/** Whether a file is a picture that a page can show, by its name. */
export function isPicturePath(path: string): boolean {
  return /\.(?:png|jpe?g|gif|webp|svg)$/i.test(path)
}

/** A picture that a change touched: both states beside each other, over each other, or what differs between them alone. */
export function PictureChange({ path, before, after, repository }: PictureSides) {
  const [way, setWay] = useState<Way>('beside')
  const addressOf = (blob: string) => `${apiRoot}/repositories/${encodeURIComponent(repository)}/pictures/${blob}`
  if (before === null || after === null)
    return (
      <div className="p-3">
        <Side label={after === null ? 'taken out' : 'new'} address={addressOf(after ?? before ?? '')} path={path} />
      </div>
    )
  const sides = { before: addressOf(before), after: addressOf(after), path }
  return (
    <div className="p-3">
      <div role="toolbar" aria-label={`How ${path} is compared`} className="mb-2 flex gap-4">
        {(Object.keys(WAYS) as Way[]).map((one) => (
          <Button key={one} look="line" aria-pressed={one === way} className={one === way ? 'font-bold' : ''} onClick={() => setWay(one)}>
            {WAYS[one]}
          </Button>
        ))}
      </div>
      {way === 'beside' && (
        <div className="flex flex-wrap items-start gap-4">
          <Side label="before" address={sides.before} path={path} />
          <Side label="after" address={sides.after} path={path} />
        </div>
      )}
      {way === 'over' && <Over {...sides} />}
      {way === 'difference' && <Difference {...sides} />}
    </div>
  )
}

/** What a picture is drawn on: squares, so that what is transparent shows. */
const GROUND =
  'max-h-[420px] max-w-full border border-edge bg-[repeating-conic-gradient(#ece8df_0_25%,#fffefb_0_50%)] bg-[length:16px_16px]'

function Side({ label, address, path }: { label: string; address: string; path: string }) {
  const [size, setSize] = useState<string | null>(null)
  const [isMissing, setIsMissing] = useState(false)
  return (
    <figure className="m-0 max-w-[48%] min-w-[80px]">
      {isMissing ? (
        <p className="text-ochre">It cannot be shown: it is no picture, or larger than 8 MB.</p>
      ) : (
        <img
          src={address}
          alt={`${path}, ${label}`}
          className={GROUND}
          onLoad={({ currentTarget: { naturalWidth, naturalHeight } }) => setSize(`${naturalWidth} × ${naturalHeight}`)}
          onError={() => setIsMissing(true)}
        />
      )}
      <figcaption className="text-[12px] text-ink-2">
        {label}
        {size !== null && <span className="font-mono"> {size}</span>}
      </figcaption>
    </figure>
  )
}

interface Both {
  before: string
  after: string
  path: string
}

/** The later over the earlier, as far as it is drawn over it. */
function Over({ before, after, path }: Both) {
  const [percent, setPercent] = useState(50)
  return (
    <>
      <label className="mb-2 flex items-center gap-3 text-[12px] text-ink-2">
        before
        <input
          type="range"
          min={0}
          max={100}
          value={percent}
          aria-label="How much of the later one"
          aria-valuetext={`${percent} % of the later one`}
          onChange={({ target }) => setPercent(Number(target.value))}
        />
        after
      </label>
      <span className="relative inline-block max-w-full">
        <img src={before} alt={`${path}, before`} className={GROUND} />
        <img
          src={after}
          alt={`${path}, after`}
          className="absolute top-0 left-0 max-h-[420px] max-w-full"
          style={{ opacity: percent / 100 }}
        />
      </span>
    </>
  )
}

/** What is the same is black; what differs is not. */
function Difference({ before, after, path }: Both) {
  return (
    <>
      <span className="relative isolate inline-block max-w-full bg-black">
        <img src={before} alt={`${path}, before`} className="max-h-[420px] max-w-full" />
        <img
          src={after}
          alt={`${path}, what differs after`}
          className="absolute top-0 left-0 max-h-[420px] max-w-full"
          style={{ mixBlendMode: 'difference' }}
        />
      </span>
      <p className="text-[12px] text-ink-2">What is the same is black.</p>
    </>
  )
}
