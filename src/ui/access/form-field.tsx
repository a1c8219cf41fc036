'use client';

import { Field, Input, type InputProps } from '@chakra-ui/react';

interface FormFieldProps extends InputProps {
  label: string;
  help?: string;
}

/** One labelled input of a form. */
export function FormField({ label, help, ...input }: FormFieldProps) {
  return (
    <Field.Root>
      <Field.Label fontSize="14px" color="soft">
        {label}
      </Field.Label>
      <Input h="40px" fontSize="16px" bg="ground" borderColor="hairline" {...input} />
      {help && (
        <Field.HelperText fontSize="13px" color="soft">
          {help}
        </Field.HelperText>
      )}
    </Field.Root>
  );
}
