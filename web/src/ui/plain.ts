/** Text that says nothing but itself in Markdown. */
export const plain = (text: string): string => text.replaceAll(/([\\`*_{}[\]<>#|])/g, '\\$1')
