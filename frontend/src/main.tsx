import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { setNonce as setPanesNonce } from "react-resizable-panels";
import { App } from "./app/App";
import { stayOpenOffline } from "./app/offline";
import "./app/theme.css";

// Open dialogs and dragged panes add a style element; the content policy lets it in by this nonce.
const nonce = document.querySelector<HTMLMetaElement>("meta[name=style-nonce]")?.content;
if (nonce) {
  setNonce(nonce);
  setPanesNonce(nonce);
}

const root = document.getElementById("root");
if (!root) throw new Error("the page has no root element");
stayOpenOffline();
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
