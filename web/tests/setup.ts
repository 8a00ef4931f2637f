import { fetched } from './server'

globalThis.fetch = fetched
