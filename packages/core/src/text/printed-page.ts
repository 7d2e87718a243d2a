import { element, printXml, type XmlElement } from './xml-tree.js'

/** A page of HTML that stands by itself: it prints, and needs nothing from anywhere. Words in it are words, whatever they look like. */
export function printedPage({ title, style, body }: { title: string; style: string; body: XmlElement[] }): string {
  const page = element('html', { xmlns: 'http://www.w3.org/1999/xhtml', lang: 'en' }, [
    element('head', {}, [element('meta', { charset: 'utf-8' }), element('title', {}, [title]), element('style', {}, [style])]),
    element('body', {}, [element('h1', {}, [title]), ...body]),
  ])
  return `<!DOCTYPE html>\n${printXml(page)}\n`
}
