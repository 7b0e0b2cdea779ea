import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import 'vuetify/styles'

/** Vuetify, themed once. Light is the spread, dark is the playtest. */
export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: {
    defaultTheme: 'spread',
    themes: {
      spread: {
        dark: false,
        colors: {
          background: '#FAF6EE',
          surface: '#FFFDF8',
          primary: '#22303C',
          'on-surface': '#22303C',
          'on-background': '#22303C',
        },
      },
      night: {
        dark: true,
        colors: {
          background: '#14191E',
          surface: '#1E252C',
          primary: '#E8B44C',
          'on-surface': '#E9E4D8',
          'on-background': '#E9E4D8',
        },
      },
    },
  },
  defaults: {
    VBtn: { variant: 'flat', ripple: false, density: 'comfortable' },
    VMenu: { transition: 'fade-transition', offset: 6 },
    VList: { density: 'compact' },
    VTooltip: { location: 'bottom', openDelay: 500, eager: false },
    VTable: { density: 'compact' },
    VTabs: { density: 'compact', height: 32 },
    VTab: { ripple: false },
    VAlert: { variant: 'text', density: 'compact' },
    VProgressLinear: { height: 3, color: 'primary' },
  },
})
