export const photos = {}

export const photoProblems = {}

export const photoActions = {}
