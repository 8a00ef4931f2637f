/** What all charts share: the parts of the library in use, and the house's type and colours. */
import {
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineElement,
  PointElement,
  Tooltip,
} from 'chart.js'
import { tone } from './night'

Chart.register(BarElement, CategoryScale, Legend, LinearScale, LineElement, PointElement, Tooltip)
Chart.defaults.font.family = "'Hanken Grotesk', sans-serif"

/** Colours of a chart, as the page's are now: of its words, its lines and its grid. */
export function chartTones(): { ink: string; grid: string } {
  Chart.defaults.color = tone('--ink-soft')
  return { ink: tone('--ink'), grid: tone('--line') }
}
