# frozen_string_literal: true

module Handrail
  # What a password must be: long, and not one that is tried first. Length counts for more than
  # signs of many kinds (NIST SP 800-63B, 2017, from memory): no rule asks for capitals or figures.
  #
  #   Passwords.fault("correct horse", email: "a@b.example") # => nil
  #   Passwords.fault("password1234")                        # => "This is one of the passwords that are tried ..."
  module Passwords
    LEAST = 12
    MOST = 200
    COMMON = File.join(ROOT, "knowledge", "common_passwords.txt")

    class << self
      # What is wrong with a password, in words, or nil. email, name - of whose it is to be.
      def fault(password, email: nil, name: nil)
        text = password.to_s
        return "Use at least #{LEAST} characters. Three or four words do." if text.size < LEAST
        return "Use at most #{MOST} characters." if text.size > MOST
        return "Use other characters than one again and again." if text.downcase.chars.uniq.size < 5
        if common?(text)
          return "This is one of the passwords that are tried first. Use words of your own."
        end

        "Use something else than your name or e-mail." if own?(text, email, name)
      end

      private

      # the same with other figures at its end is as common
      def common?(text)
        plain = text.downcase.strip
        list.include?(plain) || list.include?(plain.sub(/[\d\W_]+\z/, "")) || run?(plain)
      end

      def list
        @list ||=
          File
            .readlines(COMMON, chomp: true)
            .reject { |line| line.empty? || line.start_with?("#") }
            .to_set
            .then { |all| Memory.freeze(all) }
      end

      # "abcdefghijkl", "123456789012", "qwertyuiopas"
      def run?(text)
        [
          "abcdefghijklmnopqrstuvwxyz" * 2,
          "0123456789" * 3,
          "qwertyuiopasdfghjklzxcvbnm" * 2
        ].any? { |row| row.include?(text) || row.reverse.include?(text) }
      end

      def own?(text, email, name)
        plain = text.downcase.gsub(/[^[:alnum:]]/, "")
        [email, email.to_s[/\A[^@]+/], name].compact
          .map { |one| one.downcase.gsub(/[^[:alnum:]]/, "") }
          .any? { |one| one.size > 4 && plain.delete_suffix(one).sub(one, "").size < 4 }
      end
    end
  end
end
