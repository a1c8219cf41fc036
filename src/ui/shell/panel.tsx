import { Box, Flex, Heading } from '@chakra-ui/react';
import type { ReactNode } from 'react';

interface PanelProps {
  title: string;
  aside?: ReactNode;
  /** Shown in place of the aside's text: a button that belongs to the whole panel. */
  action?: ReactNode;
  /** A red edge: the panel has something to say that cannot wait. */
  urgent?: boolean;
  children: ReactNode;
}

/** One block of the right-hand column. */
export function Panel({ title, aside, action, urgent = false, children }: PanelProps) {
  return (
    <Box
      as="section"
      aria-label={title}
      flex="none"
      bg="surface"
      borderWidth="1px"
      borderColor="hairline"
      borderLeftWidth={urgent ? '4px' : '1px'}
      borderLeftColor={urgent ? 'ember' : 'hairline'}
      borderRadius="lane"
      px="16px"
      py="12px"
    >
      <Flex align={action ? 'center' : 'baseline'} justify="space-between" gap="3" mb="8px">
        <Heading as="h2" fontFamily="heading" fontSize="16px" fontWeight="700" lineHeight="1.3">
          {title}
        </Heading>
        {action}
        {aside !== undefined && (
          <Box color="soft" fontSize="13px">
            {aside}
          </Box>
        )}
      </Flex>
      {children}
    </Box>
  );
}
