/** Words on a line: what is being typed is not lost when the same page gets news meanwhile. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import RuledText from '@/ui/RuledText.vue'

const made = () => mount(RuledText, { props: { modelValue: 'quay', label: 'Name' } })
const field = (line: ReturnType<typeof made>) => line.element as HTMLInputElement
function type(line: ReturnType<typeof made>, words: string) {
  field(line).value = words
  return line.trigger('input')
}

describe('words on a line', () => {
  it('stay while they are typed, whatever comes in, and are taken at the end', async () => {
    const line = made()
    await type(line, 'by the quay')
    await line.setProps({ modelValue: 'pier' })
    expect(field(line).value).toBe('by the quay')
    await line.trigger('change')
    expect(line.emitted('update:modelValue')).toEqual([['by the quay']])
  })

  it('follow what comes in while nobody types', async () => {
    const line = made()
    await line.setProps({ modelValue: 'pier' })
    expect(field(line).value).toBe('pier')
  })

  it('come back with Escape, and nothing is taken that is as it was', async () => {
    const line = made()
    await type(line, 'x')
    await line.trigger('keydown', { key: 'Escape' })
    expect(field(line).value).toBe('quay')
    await line.trigger('change')
    expect(line.emitted('update:modelValue')).toBeUndefined()
  })
})
