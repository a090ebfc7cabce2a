import { mount } from 'svelte';
import '@fontsource-variable/schibsted-grotesk';
import '@fontsource-variable/newsreader';
import '@fontsource-variable/martian-mono';
import './shared/tokens.css';
import App from './App.svelte';
import { settleTab } from './live/tab';
import { scriptFaces } from './shared/script-faces';

// Without them the screen has the faces of the machine.
void scriptFaces().catch(() => {});
void settleTab().then(() => mount(App, { target: document.getElementById('app')! }));
