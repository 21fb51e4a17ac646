import { css, Theme } from '@primeuix/styled'
import type { Plugin } from 'vite'

import { Preset } from './src/theme.ts'

const STYLES = '@primeuix/styles/'
const SHEET = /^virtual:look\/(\w+)\.css$/

interface Found {
  css?: string
  style?: string
}

/** What a component of the library would write into the page at run time; `base` is what all of them share. */
export async function lookOf(component: string): Promise<string> {
  Theme.setTheme({ preset: Preset, options: { darkModeSelector: '.dark' } })
  const { style } = (await import(`${STYLES}${component}`)) as { style: string }
  const parts = [
    css`
      ${style}
    `,
  ]
  if (component === 'base') {
    const { primitive, semantic, global, style: more } = Theme.getCommon('base', {})
    parts.unshift(...[primitive, semantic, global].map((found: Found | undefined) => found?.css ?? ''))
    parts.push(css`
      ${more}
    `)
  } else {
    const variables = Theme.getComponent(component, {}) as Found | undefined
    parts.unshift(variables?.css ?? '')
    parts.push(css`
      ${variables?.style ?? ''}
    `)
  }
  return parts.join('\n')
}

/** Make stylesheets of the library's look when it is built: they come with the scripts of their components. */
export const stylesheets = (): Plugin => ({
  name: 'stylesheets-of-the-library',
  enforce: 'pre',
  resolveId: (id) => (SHEET.test(id) || id.startsWith(STYLES) ? `\0${id}` : undefined),
  load(id) {
    if (id.startsWith(`\0${STYLES}`))
      return `import 'virtual:look/${id.slice(STYLES.length + 1)}.css'\nexport const style = ''`
    const [, component] = SHEET.exec(id.slice(1)) ?? []
    return component && lookOf(component)
  },
})
