import { inSpace } from '../../api/space'

interface Wanted {
  chart: number
  step: number
  version: number
  width: number
  height: number
  now?: boolean
}

/** A small picture of a chart as it was at a step: its marks and lines, drawn by the server. */
export function ChartPicture({ chart, step, version, width, height, now }: Wanted) {
  const address = inSpace(`/api/charts/${chart}/steps/${step}/picture.svg?width=${width}&height=${height}&version=${version}`)
  return <Picture address={address} width={width} height={height} now={now} />
}

/** A small picture that is at hand as SVG. */
export const PictureAtHand = ({ svg, ...size }: { svg: string; width: number; height: number }) => (
  <Picture address={`data:image/svg+xml;utf8,${encodeURIComponent(svg)}`} {...size} now />
)

function Picture({ address, width, height, now }: { address: string; width: number; height: number; now?: boolean }) {
  return (
    <img
      src={address}
      alt=""
      width={width}
      height={height}
      loading={now ? 'eager' : 'lazy'}
      className="block w-full bg-paper"
      style={{ aspectRatio: `${width} / ${height}` }}
    />
  )
}
