import { definePreset } from '@primeuix/themes'
import base from '@primeuix/themes/aura/base'
import button from '@primeuix/themes/aura/button'
import dialog from '@primeuix/themes/aura/dialog'
import inputtext from '@primeuix/themes/aura/inputtext'
import menu from '@primeuix/themes/aura/menu'
import progressbar from '@primeuix/themes/aura/progressbar'
import select from '@primeuix/themes/aura/select'
import slider from '@primeuix/themes/aura/slider'
import toggleswitch from '@primeuix/themes/aura/toggleswitch'
import tooltip from '@primeuix/themes/aura/tooltip'

/** Paper and ink: one preset for the components in use. The colours are those of styles.css. */
const petrol = {
  50: '#eef5f6',
  100: '#d5e6e8',
  200: '#abcdd2',
  300: '#7fb2b9',
  400: '#4d919b',
  500: '#0b5563',
  600: '#0a4c59',
  700: '#08414c',
  800: '#06343d',
  900: '#04262d',
  950: '#031a1f',
}

const ink = {
  0: '#fffdf8',
  50: '#fbf8f1',
  100: '#f3eee2',
  200: '#e6dfd0',
  300: '#d9d2c3',
  400: '#9aa0ae',
  500: '#56617a',
  600: '#3f4a63',
  700: '#16223a',
  800: '#16223a',
  900: '#0f182a',
  950: '#0a101c',
}

const paper = {
  surface: ink,
  primary: {
    color: '{primary.500}',
    contrastColor: '#fffdf8',
    hoverColor: '{primary.600}',
    activeColor: '{primary.700}',
  },
  text: { color: '#16223a', hoverColor: '#16223a', mutedColor: '#56617a', hoverMutedColor: '#16223a' },
  formField: {
    background: '#fffdf8',
    borderColor: '#16223a',
    hoverBorderColor: '#16223a',
    focusBorderColor: '{primary.color}',
    color: '#16223a',
  },
}

const lamp = {
  ...paper,
  surface: {
    0: '#1b2029',
    50: '#20262f',
    100: '#262d38',
    200: '#303947',
    300: '#3a4250',
    400: '#7a8291',
    500: '#aab0bd',
    600: '#c4c7cd',
    700: '#efe7d6',
    800: '#efe7d6',
    900: '#14181f',
    950: '#10141a',
  },
  primary: {
    color: '#7cc3cf',
    contrastColor: '#10141a',
    hoverColor: '#98d3dd',
    activeColor: '#b4e0e8',
  },
  text: { color: '#efe7d6', hoverColor: '#efe7d6', mutedColor: '#aab0bd', hoverMutedColor: '#efe7d6' },
  overlay: {
    select: { background: '#1b2029', borderColor: '#aab0bd', color: '#efe7d6' },
    popover: { background: '#1b2029', borderColor: '#aab0bd', color: '#efe7d6' },
    modal: { background: '#1b2029', borderColor: '#aab0bd', color: '#efe7d6' },
  },
  list: {
    option: {
      focusBackground: '#303947',
      selectedBackground: '#303947',
      selectedFocusBackground: '#3a4250',
      color: '#efe7d6',
      focusColor: '#efe7d6',
      selectedColor: '#7cc3cf',
      selectedFocusColor: '#7cc3cf',
    },
  },
  formField: {
    background: '#1b2029',
    borderColor: '#efe7d6',
    hoverBorderColor: '#efe7d6',
    focusBorderColor: '#7cc3cf',
    color: '#efe7d6',
  },
}

export const paperAndInk = definePreset(
  {
    ...base,
    components: { button, dialog, inputtext, menu, progressbar, select, slider, toggleswitch, tooltip },
  },
  {
    primitive: { borderRadius: { none: '0', xs: '2px', sm: '3px', md: '4px', lg: '4px', xl: '4px' } },
    semantic: {
      primary: petrol,
      transitionDuration: '0s',
      focusRing: { width: '3px', style: 'solid', color: '{primary.color}', offset: '2px' },
      colorScheme: { light: paper, dark: lamp },
    },
  },
)
