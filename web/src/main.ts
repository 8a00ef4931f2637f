import '@fontsource/hanken-grotesk/latin-400.css'
import '@fontsource/hanken-grotesk/latin-500.css'
import '@fontsource/hanken-grotesk/latin-600.css'
import '@fontsource/hanken-grotesk/latin-ext-400.css'
import '@fontsource/shippori-mincho/latin-600.css'
import 'vuetify/styles'
import '@/styles/tokens.css'
import '@/styles/base.css'
import '@/styles/touch.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { queries } from '@/api/queries'
import App from '@/App.vue'
import { router } from '@/router'
import { takeUpLanguage } from '@/words/language'
import { followNight } from '@/ui/night'
import { followLightDrawing } from '@/view3d/lightDrawing'

const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: {
    defaultTheme: 'day',
    themes: {
      day: {
        dark: false,
        colors: {
          background: '#f1eadc',
          surface: '#fbf8f1',
          primary: '#9a4a2b',
          'on-primary': '#fffaf2',
          secondary: '#2f4e6f',
          error: '#b3321f',
          warning: '#825707',
          success: '#4f6839',
        },
      },
      night: {
        dark: true,
        colors: {
          background: '#1c1815',
          surface: '#26201b',
          primary: '#e39a74',
          'on-primary': '#1c1815',
          secondary: '#9dbbdc',
          error: '#f28d79',
          warning: '#e0b25a',
          success: '#a3c184',
        },
      },
    },
  },
  defaults: {
    VBtn: { variant: 'flat', rounded: 'sm', style: 'text-transform: none; letter-spacing: 0' },
    VSlider: { color: 'primary', hideDetails: true, density: 'compact' },
    VTextField: { variant: 'underlined', density: 'compact' },
  },
})

followLightDrawing()
followNight((theme) => vuetify.theme.change(theme))
await takeUpLanguage()
createApp(App)
  .use(VueQueryPlugin, { queryClient: queries })
  .use(createPinia())
  .use(router)
  .use(vuetify)
  .mount('#app')
