// The pages of the house: a key leads to the search, others through the list.
import './list.js';
import { on } from './keys.js';

on('/', () => document.getElementById('f-q').focus());
