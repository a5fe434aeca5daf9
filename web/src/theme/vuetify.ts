import { mdiChevronDown, mdiFileOutline } from '@mdi/js';
import { createVuetify } from 'vuetify';
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg';
import './reset.css';
import 'vuetify/styles';
import './tokens.css';
import './controls.css';

const light = {
  dark: false,
  variables: { 'medium-emphasis-opacity': 0.78, 'border-opacity': 1 },
  colors: {
    paper: '#F7F5EF',
    sheet: '#FFFEFB',
    ink: '#18252F',
    'ink-2': '#51606B',
    'ink-3': '#82909A',
    rule: '#D9D4C7',
    'rule-2': '#ECE8DD',
    rail: '#16242E',
    sea: '#0E4F5C',
    'sea-tint': '#E3EEEE',
    brass: '#8A5509',
    'brass-line': '#A86A12',
    'brass-tint': '#F6E9D2',
    on: '#1F7A58',
    'on-text': '#18684A',
    drift: '#B7791F',
    'drift-text': '#8A5509',
    off: '#B23A2E',
    'off-text': '#A5332A',
    'series-1': '#0E4F5C',
    'series-2': '#A86A12',
    'series-3': '#4A8C9B',
    'series-4': '#A9503A',
    'series-5': '#5F6F8F',
    'series-6': '#6A8638',
    'series-7': '#7B4B73',
    'series-8': '#857F72',
    background: '#F7F5EF',
    surface: '#FFFEFB',
    primary: '#0E4F5C',
    secondary: '#8A5509',
    error: '#A5332A',
    'on-background': '#18252F',
    'on-surface': '#18252F',
    'on-primary': '#FFFEFB',
  },
};

const dark = {
  dark: true,
  variables: { 'medium-emphasis-opacity': 0.78, 'border-opacity': 1 },
  colors: {
    paper: '#121B21',
    sheet: '#19252D',
    ink: '#EDE9DF',
    'ink-2': '#AEB9BF',
    'ink-3': '#74828B',
    rule: '#3A474F',
    'rule-2': '#28343C',
    rail: '#0C1419',
    sea: '#8CC7CF',
    'sea-tint': '#1F3A42',
    brass: '#E0A954',
    'brass-line': '#C08A3A',
    'brass-tint': '#3A2F1D',
    on: '#58B791',
    'on-text': '#6CC7A2',
    drift: '#D9A347',
    'drift-text': '#E0B262',
    off: '#E0796D',
    'off-text': '#EB8E83',
    'series-1': '#8CC7CF',
    'series-2': '#E0A954',
    'series-3': '#5E9FAE',
    'series-4': '#E08D77',
    'series-5': '#9AAACB',
    'series-6': '#A3BF6E',
    'series-7': '#C08FB6',
    'series-8': '#B3AC9E',
    background: '#121B21',
    surface: '#19252D',
    primary: '#8CC7CF',
    secondary: '#E0A954',
    error: '#EB8E83',
    'on-background': '#EDE9DF',
    'on-surface': '#EDE9DF',
    'on-primary': '#0C1419',
  },
};

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

/** Fields are outlined; their labels stand above them at all times. */
const field = { variant: 'outlined', density: 'compact', hideDetails: 'auto', persistentPlaceholder: true } as const;
const list = { ...field, listProps: { tabindex: 0 }, menuIcon: mdiChevronDown } as const;

export const vuetify = createVuetify({
  theme: { defaultTheme: localStorage.getItem('bold-compass-theme') ?? 'system', themes: { light, dark }, cspNonce: nonce },
  date: { locale: { en: 'en-GB' } },
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  defaults: {
    // Dressed once, here and in controls.css: hairline outlines, labels above their fields, no elevation, no ripple.
    VBtn: { variant: 'outlined', density: 'comfortable', ripple: false, elevation: 0 },
    VTextField: field,
    VTextarea: { ...field, autoGrow: true },
    VFileInput: { ...field, clearable: false, prependIcon: '', prependInnerIcon: mdiFileOutline },
    VNumberInput: { ...field, controlVariant: 'hidden' },
    VSelect: list,
    VAutocomplete: { ...list, autoSelectFirst: true },
    VCombobox: list,
    VSwitch: { density: 'compact', hideDetails: true, inset: true, color: 'primary', ripple: false },
    VCheckbox: { density: 'compact', hideDetails: true, color: 'primary', ripple: false },
    VRadioGroup: { density: 'compact', hideDetails: true },
    VList: { density: 'compact' },
    VDataTable: { itemsPerPage: -1, hideDefaultFooter: true, density: 'compact', noDataText: 'None yet.' },
    VDataTableVirtual: { density: 'compact', fixedHeader: true },
    VMenu: { transition: 'fade-transition' },
    VDialog: { transition: 'fade-transition' },
    VTabs: { density: 'compact', color: 'ink', sliderColor: 'secondary' },
    VExpansionPanels: { variant: 'accordion', flat: true, static: true },
    VExpansionPanel: { elevation: 0, bgColor: 'transparent' },
    VTooltip: { eager: false, openDelay: 300 },
    VProgressLinear: { color: 'secondary', height: 3 },
    VSnackbar: { color: 'rail', timeout: 8_000, elevation: 0 },
    VChip: { density: 'compact', variant: 'outlined' },
  },
});
