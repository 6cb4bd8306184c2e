import classes from './theme.module.css'
import { Button, createTheme, type CSSVariablesResolver, type MantineColorsTuple } from '@mantine/core'

/** Water, from the shallows to the deep; Mantine wants ten steps. */
const water: MantineColorsTuple = [
  '#e8f2f5',
  '#d5e7ec',
  '#bcdae4',
  '#a9cfdb',
  '#8dbed0',
  '#74aec4',
  '#5899b3',
  '#3f86a3',
  '#2b7391',
  '#16323d',
]

export const theme = createTheme({
  fontFamily: 'var(--body)',
  fontFamilyMonospace: 'var(--figures)',
  headings: { fontFamily: 'var(--body)', fontWeight: '600' },
  primaryColor: 'water',
  primaryShade: { light: 9, dark: 5 },
  colors: { water },
  defaultRadius: 3,
  cursorType: 'pointer',
  respectReducedMotion: true,
  components: {
    Button: Button.extend({
      defaultProps: { size: 'sm' },
      styles: { label: { fontWeight: 500 } },
      // a light button by night has dark letters
      vars: (_, { variant = 'filled', color }) => ({ root: variant === 'filled' && !color ? { '--button-color': 'var(--on-water)' } : {} }),
    }),
    InputWrapper: { styles: { label: { fontWeight: 400, color: 'var(--soft)' } } },
    SegmentedControl: { classNames: { root: classes.segments, indicator: classes.segment, label: classes.segmentLabel } },
    Modal: {
      defaultProps: {
        overlayProps: { backgroundOpacity: 0.35 },
        shadow: 'none',
        closeButtonProps: { 'aria-label': 'Close' },
        attributes: { header: { role: 'presentation' } }, // the page has one banner
      },
    },
    Popover: { defaultProps: { shadow: 'none', withArrow: true } },
    Menu: { defaultProps: { shadow: 'none' } },
    Notification: { defaultProps: { withBorder: true } },
  },
})

const shared = {
  '--mantine-color-body': 'var(--paper)',
  '--mantine-color-text': 'var(--ink)',
  '--mantine-color-dimmed': 'var(--soft)',
  '--mantine-color-placeholder': 'var(--soft)',
  '--mantine-color-default': 'var(--sheet)',
  '--mantine-color-default-color': 'var(--ink)',
  '--mantine-color-default-border': 'var(--edge)',
  '--mantine-color-default-hover': 'var(--paper)',
  '--mantine-color-error': 'var(--stop)',
  '--mantine-color-anchor': 'var(--level)',
}

/** Mantine's own colours, led back to the chart's. */
export const resolver: CSSVariablesResolver = () => ({ variables: {}, light: shared, dark: shared })
