/** The JSON in a file that was picked; says what to choose where there is none. */
export async function readJson(file: File, wanted: string): Promise<Record<string, unknown>> {
  try {
    return JSON.parse(await file.text()) as Record<string, unknown>
  } catch {
    throw new Error(`${file.name} is not JSON. Choose ${wanted}.`)
  }
}
