/** A small picture of a chart as it was at a step: its marks and lines, drawn by the server. */
export function ChartPicture({ chart, step, version, width, height, now }: { chart: number; step: number; version: number; width: number; height: number; now?: boolean }) {
  const address = `/api/charts/${chart}/steps/${step}/picture.svg?width=${width}&height=${height}&version=${version}`
  return <img src={address} alt="" width={width} height={height} loading={now ? 'eager' : 'lazy'} className="block w-full bg-paper" style={{ aspectRatio: `${width} / ${height}` }} />
}
