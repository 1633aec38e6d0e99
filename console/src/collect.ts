import './styles/base.css';
import { mount } from 'svelte';
import Collect from './collect/Collect.svelte';

mount(Collect, { target: document.getElementById('app')! });
