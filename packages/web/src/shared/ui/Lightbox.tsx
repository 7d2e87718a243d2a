import YetAnotherLightbox from 'yet-another-react-lightbox'
import 'yet-another-react-lightbox/styles.css'

/** Pictures one by one over the whole page; Escape closes, arrows go on. */
export function Lightbox({
  pictures,
  index,
  onClose,
}: {
  pictures: readonly { src: string; alt: string }[]
  index: number
  onClose: () => void
}) {
  return (
    <YetAnotherLightbox
      open={index >= 0}
      index={Math.max(0, index)}
      close={onClose}
      carousel={{ finite: true, preload: 1 }}
      slides={pictures.map((picture) => ({ ...picture }))}
    />
  )
}
