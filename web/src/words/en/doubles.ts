export const doubles = {}

export const doubleProblems = {}

export const doubleActions = {}
