import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Ellipsis } from 'lucide-react';

/** What can be done to what a card or a line shows, as a whole. `at`: where on the card its button stands; in its line if nothing is said. */
export function CardMenu({
  of,
  at,
  acts,
}: {
  of: string;
  at?: string;
  acts: readonly (readonly [name: string, act: () => void])[];
}) {
  return (
    <Menu as="div" className={at === undefined ? 'shrink-0' : `absolute right-2 ${at}`}>
      <MenuButton className="p-1 hover:bg-wash" aria-label={`More for ${of}`}>
        <Ellipsis size={16} aria-hidden />
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-20 min-w-40 border border-ink bg-paper py-1">
        {acts.map(([name, act]) => (
          <MenuItem key={name}>
            <button type="button" className="block w-full px-3 py-1 text-left data-focus:bg-wash" onClick={act}>
              {name}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
