'use client';

import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { ChakraProvider } from '@chakra-ui/react';
import { useServerInsertedHTML } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { system } from './system';

/** Collects the styles a server render used and sends them ahead of it, so that nothing flashes. */
function useStyleCache() {
  const [{ cache, flush }] = useState(() => {
    const styles = createCache({ key: 'css' });
    styles.compat = true;
    const insert = styles.insert;
    let names: string[] = [];
    styles.insert = (...args) => {
      const name = args[1].name;
      if (styles.inserted[name] === undefined) names.push(name);
      return insert(...args);
    };
    return {
      cache: styles,
      flush: () => {
        const flushed = names;
        names = [];
        return flushed;
      },
    };
  });
  useServerInsertedHTML(() => {
    const names = flush();
    if (names.length === 0) return null;
    const css = names.map((name) => cache.inserted[name]).join('');
    return <style data-emotion={`${cache.key} ${names.join(' ')}`} dangerouslySetInnerHTML={{ __html: css }} />;
  });
  return cache;
}

export function Provider({ children }: { children: ReactNode }) {
  const cache = useStyleCache();
  return (
    <CacheProvider value={cache}>
      <ChakraProvider value={system}>{children}</ChakraProvider>
    </CacheProvider>
  );
}
