import { createContext, useContext } from "react";

/** Copy what is selected; paste what was copied, here or in another enclosure. */
export interface ItemClipboard {
  copy: () => void;
  paste: () => void;
}

export const ItemClipboardContext = createContext<ItemClipboard>({
  copy: () => {},
  paste: () => {},
});

export const useItemClipboard = (): ItemClipboard => useContext(ItemClipboardContext);
