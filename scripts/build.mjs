import { build, buildCommand, install, requireNode } from './prepare.mjs';

requireNode();
install();
build();
buildCommand();
