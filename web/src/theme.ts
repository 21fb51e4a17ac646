import { definePreset } from '@primeuix/themes'
import autocomplete from '@primeuix/themes/aura/autocomplete'
import base from '@primeuix/themes/aura/base'
import button from '@primeuix/themes/aura/button'
import checkbox from '@primeuix/themes/aura/checkbox'
import chip from '@primeuix/themes/aura/chip'
import confirmdialog from '@primeuix/themes/aura/confirmdialog'
import css from '@primeuix/themes/aura/css'
import datatable from '@primeuix/themes/aura/datatable'
import datepicker from '@primeuix/themes/aura/datepicker'
import dialog from '@primeuix/themes/aura/dialog'
import iconfield from '@primeuix/themes/aura/iconfield'
import inputnumber from '@primeuix/themes/aura/inputnumber'
import inputtext from '@primeuix/themes/aura/inputtext'
import menu from '@primeuix/themes/aura/menu'
import multiselect from '@primeuix/themes/aura/multiselect'
import paginator from '@primeuix/themes/aura/paginator'
import popover from '@primeuix/themes/aura/popover'
import progressbar from '@primeuix/themes/aura/progressbar'
import radiobutton from '@primeuix/themes/aura/radiobutton'
import ripple from '@primeuix/themes/aura/ripple'
import select from '@primeuix/themes/aura/select'
import selectbutton from '@primeuix/themes/aura/selectbutton'
import slider from '@primeuix/themes/aura/slider'
import textarea from '@primeuix/themes/aura/textarea'
import toast from '@primeuix/themes/aura/toast'
import togglebutton from '@primeuix/themes/aura/togglebutton'
import toggleswitch from '@primeuix/themes/aura/toggleswitch'
import virtualscroller from '@primeuix/themes/aura/virtualscroller'

/** A message that comes and goes, by what it says: opaque, so that it can be read wherever it lies. */
const told = (background: string, color: string, borderColor = color) => ({
  background,
  borderColor,
  color,
  detailColor: '{cadrin.ink}',
})
const messages = {
  success: told('{cadrin.tealPaper}', '{cadrin.teal}'),
  info: told('{cadrin.sheet}', '{cadrin.ink}', '{cadrin.hairline}'),
  warn: told('{cadrin.amberPaper}', '{cadrin.ink}', '{cadrin.lit}'),
  error: told('{cadrin.brickPaper}', '{cadrin.brick}'),
}

/** What of the library's look is used here: all of it would be a third of the first page. */
const Used = {
  ...base,
  css: css as unknown as string,
  components: {
    autocomplete,
    button,
    checkbox,
    chip,
    confirmdialog,
    datatable,
    datepicker,
    dialog,
    iconfield,
    inputnumber,
    inputtext,
    menu,
    multiselect,
    paginator,
    popover,
    progressbar,
    radiobutton,
    ripple,
    select,
    selectbutton,
    slider,
    textarea,
    toast,
    togglebutton,
    toggleswitch,
    virtualscroller,
  },
}

/** Paper and ink, one teal for actions and focus, amber for lit hours, one brick for denials and destruction. */
export const Preset = definePreset(Used, {
  primitive: {
    borderRadius: { none: '0', xs: '2px', sm: '3px', md: '4px', lg: '4px', xl: '6px' },
    teal: { 700: '#0b6763', 800: '#084f4c' },
    // what PrimeVue calls danger is our brick
    red: { 400: '#e58a7d', 500: '#9c2f24', 600: '#842619', 700: '#6d1f15' },
  },
  semantic: {
    primary: {
      50: '{teal.50}',
      100: '{teal.100}',
      200: '{teal.200}',
      300: '{teal.300}',
      400: '{teal.400}',
      500: '{teal.700}',
      600: '{teal.800}',
      700: '{teal.900}',
      800: '{teal.900}',
      900: '{teal.950}',
      950: '{teal.950}',
    },
    formField: { paddingX: '0.55rem', paddingY: '0.32rem', sm: { paddingX: '0.45rem', paddingY: '0.2rem' } },
    focusRing: { width: '2px', style: 'solid', color: '{primary.color}', offset: '1px' },
    colorScheme: {
      light: {
        surface: {
          0: '#ffffff',
          50: '#faf8f3',
          100: '#f3efe7',
          200: '#e5dfd3',
          300: '#d3cbbc',
          400: '#a9a092',
          500: '#69625b',
          600: '#5d5560',
          700: '#413a52',
          800: '#2c2644',
          900: '#1f1a36',
          950: '#151127',
        },
        cadrin: {
          paper: '#faf8f3',
          sheet: '#fffdf9',
          ink: '#1f1a36',
          quiet: '#615a6b',
          hairline: '#dfd8ca',
          bar: '#2b2357',
          barInk: '#f4f1ff',
          barQuiet: '#c2b9e8',
          strip: '#221c45',
          night: '#2d2659',
          nightLine: '#4d4580',
          lit: '#f2a81d',
          now: '#ffffff',
          brick: '#9c2f24',
          brickPaper: '#fbeeea',
          teal: '#0b6763',
          tealPaper: '#e8f3f1',
          amberPaper: '#fdf3dc',
        },
      },
      dark: {
        surface: {
          0: '#ffffff',
          50: '#f4f1ff',
          100: '#dcd7ee',
          200: '#c2bcd8',
          300: '#a59fbd',
          400: '#8a84a3',
          500: '#6b6586',
          600: '#4e4870',
          700: '#38325a',
          800: '#2a2548',
          900: '#1e1a37',
          950: '#151228',
        },
        primary: {
          color: '#63c9c2',
          contrastColor: '#0d1f1e',
          hoverColor: '#86dad4',
          activeColor: '#a6e5e1',
        },
        cadrin: {
          paper: '#17142a',
          sheet: '#1e1a35',
          ink: '#efecfa',
          quiet: '#b3adc9',
          hairline: '#39345a',
          bar: '#0f0c20',
          barInk: '#f4f1ff',
          barQuiet: '#b3aad9',
          strip: '#0f0c20',
          night: '#0c0a1c',
          nightLine: '#3a3468',
          lit: '#f2b134',
          now: '#ffffff',
          brick: '#f0968a',
          brickPaper: '#3a2029',
          teal: '#63c9c2',
          tealPaper: '#17333a',
          amberPaper: '#3a3020',
        },
      },
    },
  },
  components: {
    button: {
      root: { paddingX: '0.7rem', paddingY: '0.32rem', sm: { paddingX: '0.5rem', paddingY: '0.15rem' } },
    },
    togglebutton: {
      colorScheme: {
        light: { root: { color: '{cadrin.ink}', hoverColor: '{cadrin.ink}' } },
        dark: { root: { color: '{cadrin.ink}', hoverColor: '{cadrin.ink}' } },
      },
    },
    toast: { colorScheme: { light: messages, dark: messages } },
    datatable: {
      headerCell: { padding: '0.35rem 0.6rem', background: '{cadrin.paper}' },
      bodyCell: { padding: '0 0.6rem' },
      row: { background: '{cadrin.sheet}' },
    },
  },
})
