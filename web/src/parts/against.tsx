// One reading against its limit: the line is the limit, the point the reading
// with its instrument's error; right of the line is the good side.
import { thin } from './format'
import type { Finding } from '../api/types'

const [width, height] = [168, 26]

export function Against({ finding }: { finding: Finding }) {
  const { limit, margin } = finding
  if (!limit || !margin) return null
  const reach = Math.max(Math.abs(margin.value) + 2 * margin.sigma, margin.sigma * 4, 1e-6) * 1.1
  const x = (v: number) => width / 2 + (v / reach) * (width / 2 - 8)
  const good = margin.value >= 0
  return (
    <span className="flex flex-wrap items-center gap-x-3">
      <svg width={width} height={height} aria-hidden="true" className="shrink-0">
        <path d={`M0 ${height / 2}H${width}`} className="stroke-line" strokeWidth="2" />
        <path d={`M${width / 2} 2V${height - 2}`} className="stroke-oxide" strokeWidth="2.6" />
        <path
          d={`M${x(margin.value - 2 * margin.sigma)} ${height / 2}H${x(margin.value + 2 * margin.sigma)}`}
          className="stroke-ink"
          strokeWidth="1.6"
        />
        <circle
          cx={x(margin.value)}
          cy={height / 2}
          r="6"
          className={`fill-sheet ${finding.valid ? (good ? 'stroke-verdigris' : 'stroke-oxide') : 'stroke-marigold'}`}
          strokeWidth="3"
        />
      </svg>
      <span className="text-small text-lead">
        {limitWords(finding)}
        {limit.note && <span className="text-marigold-text">, the shop’s own: {limit.note}</span>}
      </span>
    </span>
  )
}

/** A limit with its unit and the temperature it holds for. */
export function limitText({ limit }: Finding): string {
  if (!limit) return ''
  const at = limit.at_c == null ? '' : ` at ${Math.round(limit.at_c)}${thin}°C`.replace('-', '−')
  switch (limit.unit) {
    case 'V':
      return `${limit.value.toFixed(2)}${thin}V${at}`
    case 'of rating':
      return `${Math.round(limit.value * 100)}${thin}% of rating`
    case 'A':
      return limit.value < 1 ? `${Math.round(limit.value * 1000)}${thin}mA` : `${limit.value}${thin}A`
    case '':
      return `${Math.round(limit.value * 1000)} points`
    default:
      return `${limit.value}${thin}${limit.unit}${at}`
  }
}

function limitWords(finding: Finding): string {
  const { margin } = finding
  if (!margin) return ''
  const apart = Math.abs(margin.sigmas)
  const side = margin.value >= 0 ? 'inside' : 'beyond'
  const error =
    apart < 0.05
      ? 'right at the limit'
      : `${side} by ${apart < 10 ? apart.toFixed(1) : Math.round(apart)}${thin}× the reading’s error`
  return `limit ${limitText(finding)}, ${error}`
}
