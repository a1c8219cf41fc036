import { Button, type ButtonProps } from '@chakra-ui/react';

const TONES = {
  plain: { bg: 'raised', color: 'text', borderColor: 'hairline' },
  lit: { bg: 'lampGround', color: 'lampCore', borderColor: 'lamp' },
  lamp: { bg: 'lamp', color: 'onLight', borderColor: 'lamp' },
  tide: { bg: 'tide', color: 'onLight', borderColor: 'tide' },
  ember: { bg: 'ember', color: 'onLight', borderColor: 'ember' },
} as const;

/** For a label that is a sentence: it takes a second line where one is too narrow. */
export const SENTENCE = { h: 'auto', minH: '30px', py: '4px', maxW: '100%', whiteSpace: 'normal', textAlign: 'left', lineHeight: '1.25' } as const;

interface ControlButtonProps extends ButtonProps {
  tone?: keyof typeof TONES;
}

/** The product's button: quiet unless it carries light. */
export function ControlButton({ tone = 'plain', ...props }: ControlButtonProps) {
  return (
    <Button
      size="sm"
      h="34px"
      px="14px"
      fontSize="14px"
      fontWeight="600"
      borderWidth="1px"
      borderRadius="control"
      {...TONES[tone]}
      _hover={{ borderColor: 'lamp' }}
      // Whatever its tone: what cannot be pressed carries no light.
      _disabled={{ bg: 'raised', color: 'faint', borderColor: 'hairline', opacity: 1, cursor: 'not-allowed' }}
      {...props}
    />
  );
}
