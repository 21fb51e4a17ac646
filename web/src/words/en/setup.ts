export const setup = {}

export const setupProblems = {}

export const setupActions = {}
