/** A small picture of a chart as it was at a step: its marks and lines, drawn by the server. */
export function ChartPicture({ chart, step, version, width, height }: { chart: number; step: number; version: number; width: number; height: number }) {
  const address = `/api/charts/${chart}/steps/${step}/picture.svg?width=${width}&height=${height}&version=${version}`
  return <img src={address} alt="" width={width} height={height} loading="lazy" className="block w-full bg-paper" style={{ aspectRatio: `${width} / ${height}` }} />
}
