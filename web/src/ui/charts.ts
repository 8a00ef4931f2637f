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

Chart.register(BarElement, CategoryScale, Legend, LinearScale, LineElement, PointElement, Tooltip)
Chart.defaults.font.family = "'Hanken Grotesk', sans-serif"
Chart.defaults.color = '#685d53'

export const INK = '#2b2521'
export const GRID = '#d9cfbd'
