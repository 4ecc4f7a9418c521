import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { createVuetify } from 'vuetify'

/** Colours are roles: components name the role, never the colour. A dark theme will fill the same roles. */
const paper = {
  dark: false,
  colors: {
    background: '#F7F4EC',
    surface: '#FCFAF5',
    'on-background': '#22292E',
    'on-surface': '#22292E',
    ink: '#22292E',
    line: '#D9D2C3',
    primary: '#22292E',
    accent: '#A87419',
    'accent-text': '#85590D',
    pays: '#2F6B57',
    loses: '#A8432F',
    unsure: '#5A666E',
    error: '#A8432F',
    success: '#2F6B57',
  },
}

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: { defaultTheme: 'paper', themes: { paper } },
  defaults: {
    VBtn: { variant: 'outlined', density: 'compact', rounded: 0, ripple: false },
    VTextField: { variant: 'outlined', density: 'compact', hideDetails: true },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: true },
  },
})
