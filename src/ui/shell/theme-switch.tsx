'use client';

import { IconButton } from '@chakra-ui/react';
import { Moon, Sun } from 'lucide-react';
import { useSyncExternalStore } from 'react';

const A_YEAR_SECONDS = 31_536_000;

function subscribe(changed: () => void) {
  const observer = new MutationObserver(changed);
  observer.observe(document.documentElement, { attributeFilter: ['class'] });
  return () => observer.disconnect();
}

/** Night or daylight; remembered in a cookie so that the first paint is already right. */
export function ThemeSwitch() {
  const isDay = useSyncExternalStore(
    subscribe,
    () => document.documentElement.classList.contains('light'),
    () => false,
  );
  const toggle = () => {
    const root = document.documentElement;
    root.classList.toggle('light', !isDay);
    root.classList.toggle('dark', isDay);
    root.style.colorScheme = isDay ? 'dark' : 'light';
    document.cookie = `theme=${isDay ? 'night' : 'day'}; path=/; max-age=${A_YEAR_SECONDS}; samesite=lax`;
  };
  return (
    <IconButton
      aria-label={isDay ? 'Change to the night theme' : 'Change to the daylight theme'}
      size="sm"
      minW="30px"
      w="30px"
      variant="ghost"
      color="soft"
      _hover={{ bg: 'raised' }}
      onClick={toggle}
    >
      {isDay ? <Moon size={17} /> : <Sun size={17} />}
    </IconButton>
  );
}
