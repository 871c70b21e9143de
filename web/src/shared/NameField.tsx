import { useEffect, useState } from 'react';

/** A line of text that counts when it is left or Enter is pressed, so that it is one step to undo; Esc takes it back. */
export function NameField({
  value,
  label,
  onChange,
  className = 'plain',
  placeholder = '',
  maxLength = 80,
}: {
  value: string;
  label: string;
  onChange: (value: string) => void;
  className?: string;
  placeholder?: string;
  maxLength?: number;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  return (
    <input
      className={className}
      aria-label={label}
      value={text}
      placeholder={placeholder}
      maxLength={maxLength}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => text !== value && onChange(text)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') setText(value);
      }}
    />
  );
}
