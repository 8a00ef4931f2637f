<script setup lang="ts">
/** What `?` opens: what the keyboard does, what the words mean, and the guide through a first project. */
import { computed, ref } from 'vue'
import { useGuide } from '@/stores/guide'
import PageTabs from './PageTabs.vue'
import { KEYS } from './keys'
import { wordsWith } from './words'

const open = defineModel<boolean>({ required: true })
const guide = useGuide()
const PAGES = { keys: { name: 'Keyboard' }, words: { name: 'Words' }, guide: { name: 'Guide' } }
const page = ref<keyof typeof PAGES>('keys')
const looked = ref('')
const found = computed(() => wordsWith(looked.value))

function begin(): void {
  guide.begin()
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="600" aria-labelledby="help-title">
    <div class="dialog" data-test="help">
      <h2 id="help-title">Help</h2>
      <PageTabs :pages="PAGES" :at="page" label="Pages of the help" @turn="page = $event" />
      <div class="page" tabindex="0" :aria-label="PAGES[page].name">
        <template v-if="page === 'keys'">
          <template v-for="where in KEYS" :key="where.place">
            <h3>{{ where.place }}</h3>
            <dl>
              <template v-for="one in where.does" :key="one.what">
                <dt>
                  <kbd v-for="key in one.keys" :key="key">{{ key }}</kbd>
                </dt>
                <dd>{{ one.what }}</dd>
              </template>
            </dl>
          </template>
        </template>
        <template v-else-if="page === 'words'">
          <input
            v-model="looked"
            class="ruled"
            type="search"
            placeholder="look for a word"
            aria-label="Look for a word"
            data-test="look-for-word"
          />
          <dl class="words">
            <template v-for="one in found" :key="one.word">
              <dt>{{ one.word }}</dt>
              <dd>{{ one.meaning }}</dd>
            </template>
          </dl>
          <p v-if="!found.length" class="soft">No word has that in it.</p>
        </template>
        <template v-else>
          <p>
            {{ guide.hints.length }} short hints lead through a project, from the model to the print log. They
            stand below the view; leave them when you like, and take them up here again.
          </p>
          <button class="wide" data-test="begin-guide" @click="begin">
            {{ guide.begun ? `Go on with hint ${guide.at + 1}` : 'Show me round' }}
          </button>
        </template>
      </div>
      <div class="actions"><v-btn color="primary" autofocus @click="open = false">Close</v-btn></div>
    </div>
  </v-dialog>
</template>

<style scoped>
.page {
  height: 56vh;
  margin-top: 10px;
  overflow: auto;
}
h3 {
  margin: 12px 0 4px;
  font-size: 13px;
  color: var(--ink-soft);
}
dl {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 5px 12px;
  margin: 0;
}
.words {
  margin-top: 10px;
}
.words dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
@media (max-width: 480px) {
  dl {
    grid-template-columns: minmax(0, 1fr);
  }
  dd {
    margin-bottom: 8px;
  }
}
.actions {
  margin-top: 12px;
}
kbd {
  display: inline-block;
  min-width: 20px;
  margin-right: 4px;
  padding: 0 5px;
  border: 1px solid var(--line-strong);
  border-radius: 2px;
  background: var(--paper);
  font: inherit;
  font-size: 12px;
  text-align: center;
}
</style>
