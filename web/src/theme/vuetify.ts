import { createVuetify } from 'vuetify';
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg';
import 'vuetify/styles';
import './tokens.css';

const light = {
  dark: false,
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

export const vuetify = createVuetify({
  theme: { defaultTheme: localStorage.getItem('bold-compass-theme') ?? 'system', themes: { light, dark }, cspNonce: nonce },
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  defaults: {
    VBtn: { variant: 'flat', ripple: false },
    VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VSwitch: { density: 'compact', hideDetails: true, inset: true, color: 'primary' },
    VCheckbox: { density: 'compact', hideDetails: true, color: 'primary' },
    VMenu: { transition: 'fade-transition' },
  },
});
