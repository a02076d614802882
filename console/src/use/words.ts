import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { api, data } from "@/api/client";
import { announce } from "@/use/announcements";

/** What adding a word to a site's own, or dropping one, changes on other views. */
const TOUCHED = ["site-words", "doubtful-words", "finding", "findings", "causes"];

/** Making words a site's own and dropping them again, each with its way back. */
export function useSiteWords(site: () => string) {
  const cache = useQueryClient();
  const touch = () =>
    Promise.all(TOUCHED.map((key) => cache.invalidateQueries({ queryKey: [key] })));
  const send = (words: string[]) =>
    data(
      api.POST("/api/v1/sites/{slug}/words", {
        params: { path: { slug: site() } },
        body: { words },
      }),
    );
  const forget = (word: string) =>
    api.DELETE("/api/v1/sites/{slug}/words/{word}", { params: { path: { slug: site(), word } } });

  const add = useMutation({
    mutationFn: send,
    onSuccess: async (made, words) => {
      const [first] = words;
      if (words.length === 1 && first)
        announce(
          made.added
            ? `“${first}” is one of the site’s words now.`
            : `“${first}” was one of the site’s words already.`,
          made.added ? () => forget(first).then(touch) : undefined,
        );
      else announce(`${made.added} of ${words.length} words are new among the site’s.`);
      await touch();
    },
  });
  const drop = useMutation({
    mutationFn: forget,
    onSuccess: async (_, word) => {
      announce(
        `“${word}” is doubtful again; pages are read with that from the next sweep on.`,
        () => send([word]).then(touch),
      );
      await touch();
    },
  });
  return { add, drop };
}
