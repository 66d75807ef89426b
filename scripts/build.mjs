import { build, install, requireNode } from './prepare.mjs';

requireNode();
install();
build();
