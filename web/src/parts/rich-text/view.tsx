/** A text that somebody wrote. The server has cleaned it of everything that could run. */
import { useNavigate } from "react-router";

export function RichView({ html, className = "" }: { html: string; className?: string }) {
  const navigate = useNavigate();
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: links within the text are followed without loading the page anew
    // biome-ignore lint/a11y/useKeyWithClickEvents: Enter on a link is a click
    <div
      className={`rich ${className}`}
      onClick={(event) => {
        const link = (event.target as HTMLElement).closest("a");
        if (!link || event.ctrlKey || event.metaKey || link.origin !== location.origin) return;
        event.preventDefault();
        navigate(link.pathname + link.search);
      }}
      // biome-ignore lint/security/noDangerouslySetInnerHtml: cleaned by the server, see formats/html.py
      dangerouslySetInnerHTML={{ __html: html }}
    />
  );
}
