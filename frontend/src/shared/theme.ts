import { ref, watch } from 'vue'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { createVuetify } from 'vuetify'

/** Colours are roles: components name the role, never the colour. Both themes fill the same roles. */
export const paper = {
  dark: false,
  colors: {
    background: '#F7F4EC',
    surface: '#FCFAF5',
    'on-background': '#22292E',
    'on-surface': '#22292E',
    ink: '#22292E',
    line: '#D9D2C3',
    primary: '#22292E',
    'on-primary': '#F7F4EC',
    accent: '#A87419',
    'accent-text': '#85590D',
    pays: '#2F6B57',
    loses: '#A8432F',
    unsure: '#5A666E',
    error: '#A8432F',
    success: '#2F6B57',
  },
}

export const night = {
  dark: true,
  colors: {
    background: '#1B2024',
    surface: '#232A2F',
    'on-background': '#ECE7DB',
    'on-surface': '#ECE7DB',
    ink: '#ECE7DB',
    line: '#414A51',
    primary: '#ECE7DB',
    'on-primary': '#1B2024',
    accent: '#D29A3A',
    'accent-text': '#E2B463',
    pays: '#7CC5A7',
    loses: '#EC9580',
    unsure: '#A9B4BB',
    error: '#EC9580',
    success: '#7CC5A7',
  },
}

const KEPT = 'theme'
const dusk = window.matchMedia?.('(prefers-color-scheme: dark)')
const kept = () => {
  const said = localStorage.getItem(KEPT)
  return said === 'paper' || said === 'night' ? said : dusk?.matches ? 'night' : 'paper'
}

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: { defaultTheme: kept(), themes: { paper, night } },
  defaults: {
    VBtn: { variant: 'outlined', density: 'compact', rounded: 0, ripple: false },
    VTextField: { variant: 'outlined', density: 'compact', hideDetails: true },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: true },
  },
})

/** The theme in use. A choice is remembered by this browser; without one it follows the machine. */
export const theme = ref(kept())
watch(theme, (name) => {
  vuetify.theme.change(name)
  localStorage.setItem(KEPT, name)
})
