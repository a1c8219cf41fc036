import { Box } from '@chakra-ui/react';

/** The key that works a control, shown on it. */
export function KeyCap({ children }: { children: string }) {
  return (
    <Box
      as="kbd"
      aria-hidden
      fontFamily="body"
      fontSize="11px"
      lineHeight="1"
      minW="20px"
      px="5px"
      py="4px"
      textAlign="center"
      borderWidth="1px"
      borderColor="hairline"
      borderRadius="5px"
      color="soft"
      bg="ground"
    >
      {children}
    </Box>
  );
}
