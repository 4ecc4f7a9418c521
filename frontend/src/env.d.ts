declare module '@fontsource-variable/source-sans-3'
declare module 'vuetify/styles'
