#!/usr/bin/env node
import '@patient-hook/cli'
