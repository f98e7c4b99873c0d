/** Colours (from the tokens the server's pictures use too), icons and defaults of Vuetify. */
import tokens from '@figures/tokens.json'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

type Colours = (typeof tokens)['light']

function theme(colours: Colours, dark: boolean) {
  return {
    dark,
    colors: {
      ...colours,
      background: colours.paper,
      surface: colours.sheet,
      primary: colours.pine,
      error: colours.fail,
      warning: colours.care,
      'on-background': colours.ink,
      'on-surface': colours.ink,
      'on-primary': dark ? colours.paper : colours.sheet,
    },
    variables: {
      'medium-emphasis-opacity': 0.8,
      'border-color': colours.hairline,
      'border-opacity': 1,
    },
  }
}

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content

export const vuetify = createVuetify({
  theme: {
    defaultTheme: 'light',
    cspNonce: nonce,
    themes: { light: theme(tokens.light, false), dark: theme(tokens.dark, true) },
  },
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  defaults: {
    VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VBtn: { variant: 'flat' },
  },
})
