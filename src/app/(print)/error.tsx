'use client'

export { default } from '../(public)/error'
