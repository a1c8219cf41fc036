import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { NewShow } from './new-show';
import { OpenDemo } from './demo-buttons';

const STEPS = [
  { name: 'A show', words: 'its settings hold for every episode' },
  { name: 'An episode', words: 'one interview, with its date' },
  { name: 'Your guests', words: 'a link each, sent by you' },
  { name: 'The way in', words: 'whether guests elsewhere reach you' },
  { name: 'The desk', words: 'everybody hears everybody but themselves' },
];

/** Where nothing is yet: the way to the first interview, and its first step. */
export function FirstSteps() {
  return (
    <Box as="section" aria-label="First steps" bg="surface" borderWidth="1px" borderColor="hairline" borderRadius="lane" p="28px 30px">
      <Heading as="h2" fontFamily="heading" fontSize="24px" fontWeight="700">
        Five steps to your first interview
      </Heading>
      <Flex as="ol" listStyleType="none" gap="14px" mt="18px" mb="24px" wrap="wrap">
        {STEPS.map(({ name, words }, place) => (
          <Flex as="li" key={name} flex="1" minW="190px" gap="10px">
            <Box w="30px" h="30px" flex="none" borderRadius="full" display="grid" placeItems="center" borderWidth="1px" borderColor={place === 0 ? 'lamp' : 'hairline'} bg={place === 0 ? 'lampGround' : 'raised'} color={place === 0 ? 'lampCore' : 'soft'} fontWeight="700">
              {place + 1}
            </Box>
            <Box>
              <Text fontWeight="600">{name}</Text>
              <Text fontSize="14px" color="soft">
                {words}
              </Text>
            </Box>
          </Flex>
        ))}
      </Flex>
      <NewShow first />
      <Text fontSize="15px" color="soft" mt="26px" mb="8px">
        Or look around first:
      </Text>
      <OpenDemo />
    </Box>
  );
}
