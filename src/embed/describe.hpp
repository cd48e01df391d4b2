// A feel as JSON and as words, for those who show it. Shapes: docs/embed.md.
#pragma once

#include <string>

#include "embed/played_feel.hpp"

namespace stasis::embed {

/// Title, channels, controls, shakes, tracks, obstacles, takes, variants, settings, picture.
std::string description_json(const PlayedFeel& played);
/// Every number of its text; see feel_numbers().
std::string numbers_json(const PlayedFeel& played);
/// Every curve of its text, with the points by which a hand may bend it; see feel_curves().
std::string curves_json(const PlayedFeel& played);
/// The words of feel.
std::string words_json();
/// What a channel does, in lines.
std::string channel_in_words(const Feel& feel, std::size_t channel);

/// The paragraph of each fault, as the command line shows it.
std::string faults_in_words(const Faults& faults);

/// The inputs of hands as a take, ready to be pasted into the feel.
/// \param clock the file of frame times; empty: a steady clock.
std::string take_toml(const PlayedFeel& played, const std::string& name, const std::string& clock);
/// The times of the frames as CSV.
std::string clock_csv(const PlayedFeel& played);
/// The way of a subject that was led, as CSV; empty where none was.
std::string track_csv(const PlayedFeel& played, std::size_t track);

} // namespace stasis::embed
