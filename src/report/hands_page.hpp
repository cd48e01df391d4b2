// The page that is played by hand: one HTML file with the heart in it.
#pragma once

#include <map>
#include <string>

#include "report/page.hpp"

namespace stasis::report {

struct HandsContent {
  std::string title; ///< of the feel
  std::string name;  ///< of its file, without folder
  std::string text;
  std::map<std::string, std::string> files; ///< texts of the files that the feel names, by those names
  std::string saved_in{};                   ///< the script beside the page that tells what is saved; empty: none does
};

/// The whole page; texts of the feel stand in it only as data. \param part gives the parts of the page by name.
std::string hands_page_html(const HandsContent& content, PagePart part);

/// The script that a watched page looks at again and again: the feel as it is saved.
std::string saved_script(const HandsContent& content);

} // namespace stasis::report
