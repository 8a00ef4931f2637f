<script setup lang="ts">
/** The page that tells what the keyboard does. */
import { KEYS } from './keys'

const open = defineModel<boolean>({ required: true })
</script>

<template>
  <v-dialog v-model="open" max-width="560" aria-labelledby="keys-title">
    <div class="dialog" data-test="keys">
      <h2 id="keys-title">What the keyboard does</h2>
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
      <div class="actions"><v-btn color="primary" autofocus @click="open = false">Close</v-btn></div>
    </div>
  </v-dialog>
</template>

<style scoped>
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
dd {
  margin: 0;
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
